/** Writes about something, unless it was removed for good meanwhile (foreign_key_violation): then there is nothing to write. */
export const unlessGone = async (write: PromiseLike<unknown>): Promise<void> => {
  try {
    await write;
  } catch (error) {
    const { code, cause } = error as { code?: string; cause?: { code?: string } };
    if ((cause?.code ?? code) !== '23503') throw error;
  }
};
