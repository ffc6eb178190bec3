import { Check, Copy } from 'lucide-react';
import { useState } from 'react';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button } from '../ui/controls.tsx';

/** Code to read and to copy. */
export const CodeBlock = ({ label, code }: { label: string; code: string }) => {
  const { t } = useTranslation();
  /** The code that was copied last. */
  const [copied, setCopied] = useState<string | null>(null);
  const copy = async (): Promise<void> => {
    // Without a secure page there is no clipboard: the code is selected, to be copied by hand.
    if (!navigator.clipboard) return;
    await navigator.clipboard.writeText(code);
    setCopied(code);
  };
  return (
    <figure aria-label={label} className="relative m-0 min-w-0">
      <pre className="overflow-auto rounded-md border border-rule bg-desk/40 p-3 pe-24 font-mono text-[12px] leading-[1.5] select-all">
        <code>{code}</code>
      </pre>
      <Button className="absolute top-2 right-2" onClick={() => void copy()}>
        {copied === code ? <Check size={14} aria-hidden /> : <Copy size={14} aria-hidden />}
        {copied === code ? t('embedding.copied') : t('embedding.copy')}
      </Button>
    </figure>
  );
};
