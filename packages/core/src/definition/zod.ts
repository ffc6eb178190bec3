import { z } from 'zod';

// Zod would otherwise compile its checks with `Function`, which hosts' content security policies rightly forbid.
z.config({ jitless: true });

export { z };
