/** What waits until the pointer is let go. */
const waiting: (() => void)[] = [];
let isDown = false;

const flush = (): void => {
  isDown = false;
  for (const run of waiting.splice(0)) run();
};

if (typeof document !== 'undefined') {
  document.addEventListener(
    'pointerdown',
    () => {
      isDown = true;
    },
    true,
  );
  // Where the press ends is known by then, and the click is still to come: what it starts finds everything taken over.
  for (const event of ['mouseup', 'pointercancel', 'keydown', 'dragend']) document.addEventListener(event, flush, true);
  document.addEventListener('pointerup', () => setTimeout(flush), true);
}

/**
 * Does something once no button is held down. What a box does when it is left may move the things around it: done while
 * the pointer is on its way down and up on one of them, the press would be lost.
 */
export const onceReleased = (run: () => void): void => {
  if (isDown) waiting.push(run);
  else run();
};
