import { loadEquipment } from '@gaveta/output/equipment';
import { z } from 'zod';

interface OptionSchema {
  type?: string;
  description?: string;
}

/** Prints each format with the options that it takes. */
export const printFormats = async (): Promise<void> => {
  for (const { name, label, extension, options } of (await loadEquipment()).outputs) {
    console.log(`${name}: ${label}, written to .${extension}`);
    const { properties = {} } = z.toJSONSchema(options, { io: 'input', unrepresentable: 'any' }) as {
      properties?: Record<string, OptionSchema>;
    };
    for (const [option, { description = '' }] of Object.entries(properties))
      console.log(`  --option ${option}=…  ${description}`.trimEnd());
  }
};
