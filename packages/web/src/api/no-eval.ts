/**
 * Schemas are checked without code made from text: the policy that pages of Gaveta live under forbids it, and each try to find that out
 * would be reported in the console. Imported before any schema is used.
 */
const shared = globalThis as { __zod_globalConfig?: { jitless?: boolean } };
shared.__zod_globalConfig ??= {};
shared.__zod_globalConfig.jitless = true;

export {};
