#!/usr/bin/env node
import { main } from './main.ts';

process.exit(await main(process.argv));
