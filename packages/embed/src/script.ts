import { defineElements } from './element.ts';

defineElements();
