/** How long `work` takes, in seconds. */
export const time = async <T>(work: () => Promise<T>): Promise<{ seconds: number; value: T }> => {
  const started = performance.now();
  const value = await work();
  return { seconds: (performance.now() - started) / 1000, value };
};

/** Highest resident memory while `work` runs, in MB. */
export const peak = async <T>(work: () => Promise<T>): Promise<{ megabytes: number; value: T }> => {
  let most = process.memoryUsage.rss();
  const timer = setInterval(() => {
    most = Math.max(most, process.memoryUsage.rss());
  }, 20);
  const value = await work();
  clearInterval(timer);
  return { megabytes: Math.round(most / 1e6), value };
};

export const median = (list: readonly number[]): number =>
  [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)]!;

/** One line of a result: what, seconds, and more. */
export const line = (name: string, seconds: number, more = ''): void =>
  console.log(`  ${name.padEnd(56)} ${seconds.toFixed(2).padStart(7)} s   ${more}`.trimEnd());
