export { type CliConfig, defineConfig } from './config.ts';
export { main } from './main.ts';
