import { resolve } from 'node:path';
import { packDemoDatabase } from '../examples/cumeeira/src/database.ts';

// Packed once, before several tests would each make it.
await packDemoDatabase(resolve(process.argv[2] ?? '.data'));
