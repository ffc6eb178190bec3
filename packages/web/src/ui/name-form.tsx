import { Button, inputLook } from './controls.tsx';

interface NameFormProps {
  label: string;
  /** What its button does. */
  action: string;
  isBusy?: boolean;
  onName: (name: string) => void;
  onCancel: () => void;
}

/** Asks for a name, in place; Escape gives it up. */
export const NameForm = ({ label, action, isBusy = false, onName, onCancel }: NameFormProps) => (
  <form
    className="mt-1.5 flex gap-1.5"
    onSubmit={(event) => {
      event.preventDefault();
      const name = String(new FormData(event.currentTarget).get('name') ?? '').trim();
      if (name !== '') onName(name);
    }}
  >
    <input
      name="name"
      // biome-ignore lint/a11y/noAutofocus: it comes when it is asked for
      autoFocus
      maxLength={80}
      className={inputLook}
      aria-label={label}
      placeholder={label}
      onKeyDown={(event) => event.key === 'Escape' && onCancel()}
    />
    <Button type="submit" disabled={isBusy}>
      {action}
    </Button>
  </form>
);
