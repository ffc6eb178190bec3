import { type ReactNode, useEffect, useLayoutEffect, useRef, useState } from 'react';
import { closeOverlay } from '../design/overlay.ts';

interface FloatingProps {
  label: string;
  /** Wished corner, in CSS pixels of the window; the panel stays inside it. */
  at: { x: number; y: number };
  width: number;
  children: ReactNode;
}

/** A panel over the designer that Escape or a press outside closes; the keyboard then goes back to where it was. */
export const Floating = ({ label, at, width, children }: FloatingProps) => {
  const box = useRef<HTMLDivElement>(null);
  const [corner, setCorner] = useState(at);
  useLayoutEffect(() => {
    const { height } = box.current!.getBoundingClientRect();
    setCorner({
      x: Math.max(8, Math.min(at.x, window.innerWidth - width - 8)),
      y: Math.max(8, Math.min(at.y, window.innerHeight - Math.max(height, 380) - 8)),
    });
  }, [at, width]);
  useEffect(() => {
    const before = document.activeElement;
    const press = (event: PointerEvent): void => {
      if (!box.current?.contains(event.target as Node)) closeOverlay();
    };
    const key = (event: KeyboardEvent): void => {
      if (event.key !== 'Escape') return;
      event.stopPropagation();
      closeOverlay();
      if (before instanceof HTMLElement) before.focus({ preventScroll: true });
    };
    window.addEventListener('pointerdown', press, true);
    window.addEventListener('keydown', key, true);
    return () => {
      window.removeEventListener('pointerdown', press, true);
      window.removeEventListener('keydown', key, true);
    };
  }, []);
  return (
    <div
      ref={box}
      role="dialog"
      aria-label={label}
      className="fixed z-40 overflow-hidden rounded-lg border border-rule bg-paper shadow-[0_12px_32px_#3a2f1640]"
      style={{ left: corner.x, top: corner.y, width }}
    >
      {children}
    </div>
  );
};
