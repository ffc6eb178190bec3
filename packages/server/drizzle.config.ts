import { defineConfig } from 'drizzle-kit';

export default defineConfig({
  dialect: 'postgresql',
  schema: ['./src/store/schema.ts', './src/store/delivery-schema.ts'],
  out: './drizzle',
});
