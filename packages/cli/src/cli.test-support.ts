import { vi } from 'vitest';
import { main } from './main.ts';

/** A call in this process; what it prints goes by way of the console. */
export const gaveta = async (...args: string[]): Promise<{ status: number; stdout: string; stderr: string }> => {
  const said = vi.spyOn(console, 'log').mockImplementation(() => {});
  const complained = vi.spyOn(console, 'error').mockImplementation(() => {});
  const lines = ({ mock }: { mock: { calls: unknown[][] } }): string =>
    mock.calls.map(([line]) => `${String(line)}\n`).join('');
  try {
    const status = await main(['node', 'gaveta', ...args]);
    return { status, stdout: lines(said), stderr: lines(complained) };
  } finally {
    said.mockRestore();
    complained.mockRestore();
  }
};
