/** Asks a database server with a statement of its own, for a queue that keeps its jobs beside the store. */
export type AskServer = (text: string, values?: unknown[]) => Promise<{ rows: unknown[] }>;
