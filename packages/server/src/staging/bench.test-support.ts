import { Workbench } from './workbench.ts';

/** Workbenches that a test is done with: the next one need not wait for a database to start. */
const free: Workbench[] = [];

/** A workbench; to close it gives it back to the next test that asks. */
export const openBench = (): Workbench => {
  const bench = free.pop() ?? new Workbench();
  return new Proxy(bench, {
    get: (target, name) => {
      if (name === 'close') return async () => void free.push(target);
      const value = Reflect.get(target, name, target);
      return typeof value === 'function' ? value.bind(target) : value;
    },
  });
};
