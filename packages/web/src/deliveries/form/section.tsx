import type { Delivery } from '@gaveta/core/internal';
import type { ReactNode } from 'react';

/** A delivery that is being made, and what changes a part of it. */
export interface SectionProps {
  definition: Delivery;
  put: (part: Partial<Delivery>) => void;
  /** What is wrong with what stands in the section. */
  children?: ReactNode;
}

/** A field of rows, as formulas name it. */
export interface FieldFacts {
  name: string;
  label: string;
  type: string;
}

export const Section = ({ title, help, children }: { title: string; help?: string; children: ReactNode }) => (
  <fieldset className="min-w-0 border-t border-rule pt-2">
    <legend className="pe-2 text-[14px] font-semibold">{title}</legend>
    {help && <p className="mb-2 text-ink-3">{help}</p>}
    {children}
  </fieldset>
);

/** A line of a section: what it is called, and its box. */
export const Row = ({ label, children }: { label: string; children: ReactNode }) => (
  <div className="grid min-h-[30px] grid-cols-[140px_minmax(0,1fr)] items-center gap-2 py-0.5 max-sm:grid-cols-1">
    <span className="text-ink-2">{label}</span>
    <div className="flex min-w-0 flex-wrap items-center gap-1.5">{children}</div>
  </div>
);
