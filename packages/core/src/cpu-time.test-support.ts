/** Milliseconds of the processor that something takes: what else the machine is busy with does not count. */
export const cpuTime = (work: () => void): number => {
  const from = process.cpuUsage();
  work();
  const { user, system } = process.cpuUsage(from);
  return (user + system) / 1000;
};
