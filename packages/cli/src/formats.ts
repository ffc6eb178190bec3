import { OUTPUTS } from '@gaveta/output/outputs';
import { z } from 'zod';

interface OptionSchema {
  type?: string;
  description?: string;
}

/** Prints each format with the options that it takes. */
export const printFormats = (): void => {
  for (const { name, label, extension, options } of OUTPUTS) {
    console.log(`${name}: ${label}, written to .${extension}`);
    const { properties = {} } = z.toJSONSchema(options, { io: 'input', unrepresentable: 'any' }) as {
      properties?: Record<string, OptionSchema>;
    };
    for (const [option, { description = '' }] of Object.entries(properties))
      console.log(`  --option ${option}=…  ${description}`.trimEnd());
  }
};
