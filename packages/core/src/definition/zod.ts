import { z } from 'zod';

// Zod would otherwise compile its checks with `Function`, which hosts' content security policies rightly forbid.
z.config({ jitless: true });

// Large schemas are given an interface each (`interface BandSchema extends PlainBandSchema {}`): declarations then refer to them by name
// instead of writing them out wherever they occur, which made 3.4 MB of one file.

export { z };
