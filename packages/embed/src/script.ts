import { defineElements } from './define.ts';
import { setHome } from './home.ts';

// Apart, since bundlers read `new URL(…, import.meta.url)` as a file to pack.
const own: string = import.meta.url;
setHome(own);
defineElements();
