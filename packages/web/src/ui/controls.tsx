import type { ButtonHTMLAttributes, ReactNode } from 'react';

const LOOKS = {
  plain: 'rounded-md border border-rule bg-paper hover:bg-desk/50',
  primary: 'rounded-md border border-pine bg-pine text-on-accent font-semibold hover:bg-pine/90',
  quiet: 'rounded-md border border-transparent hover:bg-desk/60',
  chip: 'border border-rule rounded-full bg-paper hover:bg-desk/50',
} as const;

interface ButtonProps extends ButtonHTMLAttributes<HTMLButtonElement> {
  look?: keyof typeof LOOKS;
}

export const Button = ({ look = 'plain', className = '', ...rest }: ButtonProps) => (
  <button
    type="button"
    className={`inline-flex h-7 items-center gap-1.5 px-3 whitespace-nowrap disabled:opacity-45 ${LOOKS[look]} ${className}`}
    {...rest}
  />
);

/** A square button that shows a picture; `label` is its accessible name and its tooltip. */
export const IconButton = ({ label, className = '', ...rest }: ButtonProps & { label: string }) => (
  <button
    type="button"
    aria-label={label}
    title={label}
    className={`inline-grid size-7 place-items-center rounded-md text-ink-2 hover:bg-desk/60 disabled:opacity-35 ${className}`}
    {...rest}
  />
);

export const inputLook = 'h-[26px] w-full min-w-0 rounded border border-rule bg-paper px-2';

/** A labelled line of the Selection tray. */
export const Line = ({ label, children }: { label: string; children: ReactNode }) => (
  // biome-ignore lint/a11y/noLabelWithoutControl: the control is the child
  <label className="grid min-h-[30px] grid-cols-[78px_1fr] items-center gap-2">
    <span className="text-ink-2">{label}</span>
    {children}
  </label>
);

/** The small drawn drawer that heads each tray. */
export const DrawerMark = () => (
  <span aria-hidden className="ms-auto h-[5px] w-[22px] rounded-b-[5px] border-[1.5px] border-t-0 border-brass" />
);

/** A message that takes the place of content: what happened, and what to do. */
export const Notice = ({ title, children, action }: { title?: string; children: ReactNode; action?: ReactNode }) => (
  <div className="mx-auto mt-16 max-w-md rounded-lg border border-rule bg-paper p-5" role="status">
    {title && <h2 className="mb-1 text-[15px] font-semibold">{title}</h2>}
    <div className="text-ink-2">{children}</div>
    {action && <div className="mt-4 flex gap-2">{action}</div>}
  </div>
);
