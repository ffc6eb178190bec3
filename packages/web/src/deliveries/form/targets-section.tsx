import { addressSchema, type Recipient, type Report, type Target, type TargetKind } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { Plus, Trash2, X } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { type RefObject, useRef, useState } from 'react';
import { deliveryQueries } from '../../api/deliveries.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Button, IconButton, inputLook } from '../../ui/controls.tsx';
import { MenuLine } from '../../ui/menu-line.tsx';
import { Select } from '../../ui/select.tsx';
import { recipientWords } from '../target-words.ts';
import { type FieldFacts, Row, Section, type SectionProps } from './section.tsx';

interface TargetsSectionProps extends SectionProps {
  report: { name: string; definition: Report } | null;
  fields: readonly FieldFacts[];
}

/** Where it goes: by mail, into a folder, to an address, a printer, or kept in the library. */
export const TargetsSection = ({ definition, put, report, fields, children }: TargetsSectionProps) => {
  const { t } = useTranslation();
  const found = useQuery(deliveryQueries.targets()).data;
  const { to } = definition;
  const names = { folder: found?.folders ?? [], address: found?.addresses ?? [], printer: found?.printers ?? [] };
  const offered: TargetKind[] = [
    ...(found?.mail ? (['mail'] as const) : []),
    'kept',
    ...(['folder', 'printer', 'address'] as const).filter((kind) => names[kind].length > 0),
  ];
  const begin = (kind: TargetKind): Target => {
    switch (kind) {
      case 'mail':
        return { kind, to: [], subject: '{report}', words: t('deliveries.wordsExample'), together: false };
      case 'kept':
        return { kind, for: [] };
      case 'printer':
        return { kind, name: names.printer[0] ?? '', copies: 1, sides: 'one' };
      case 'folder':
      case 'address':
        return { kind, name: names[kind][0] ?? '' };
      default:
        return kind satisfies never;
    }
  };
  const change = (at: number, next: Target): void => put({ to: to.map((one, i) => (i === at ? next : one)) });
  return (
    <Section title={t('deliveries.to')}>
      <ul className="flex flex-col gap-2">
        {to.map((target, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: targets are told apart by their place
          <li key={i} className="rounded-md border border-rule p-2" data-target={target.kind}>
            <div className="mb-1 flex items-center gap-2">
              <b className="flex-1">{t(`deliveries.targetKind_${target.kind}`)}</b>
              <IconButton
                label={t('deliveries.removeTarget', { name: t(`deliveries.targetKind_${target.kind}`) })}
                disabled={to.length === 1}
                onClick={() => put({ to: to.filter((_, j) => j !== i) })}
              >
                <Trash2 size={14} />
              </IconButton>
            </div>
            {target.kind === 'mail' && (
              <MailTarget
                {...{ target, report, fields }}
                hasPeople={found?.hasPeople ?? false}
                hasPerson={definition.each?.person !== undefined}
                onChange={(next) => change(i, next)}
              />
            )}
            {(target.kind === 'folder' || target.kind === 'address' || target.kind === 'printer') && (
              <Row label={t(`deliveries.which_${target.kind}`)}>
                <Select
                  label={t(`deliveries.which_${target.kind}`)}
                  className="w-56!"
                  value={target.name}
                  choices={names[target.kind].map((value) => ({ value, label: value }))}
                  onPick={(name) => change(i, { ...target, name })}
                />
              </Row>
            )}
            {target.kind === 'printer' && (
              <Row label={t('deliveries.copies')}>
                <input
                  type="number"
                  min={1}
                  max={99}
                  className={`${inputLook} w-16!`}
                  aria-label={t('deliveries.copies')}
                  value={target.copies}
                  onChange={(event) =>
                    change(i, {
                      ...target,
                      copies: Math.min(99, Math.max(1, Math.floor(Number(event.target.value) || 1))),
                    })
                  }
                />
                <Select
                  label={t('deliveries.sides')}
                  className="w-52!"
                  value={target.sides}
                  choices={(['one', 'long-edge', 'short-edge'] as const).map((value) => ({
                    value,
                    label: t(`deliveries.sides_${value}`),
                  }))}
                  onPick={(sides) => change(i, { ...target, sides })}
                />
              </Row>
            )}
            {target.kind === 'kept' && (
              <KeptTarget principals={target.for} onChange={(next) => change(i, { ...target, for: next })} />
            )}
          </li>
        ))}
      </ul>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger asChild>
          <Button className="mt-2" disabled={to.length >= 10}>
            <Plus size={14} aria-hidden /> {t('deliveries.addTarget')}
          </Button>
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            align="start"
            sideOffset={2}
            className="z-60 min-w-48 rounded-lg border border-rule bg-paper p-1 shadow-lg"
          >
            {offered.map((kind) => (
              <MenuLine key={kind} onSelect={() => put({ to: [...to, begin(kind)] })}>
                {t(`deliveries.targetKind_${kind}`)}
              </MenuLine>
            ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      {children}
    </Section>
  );
};

type Mail = Extract<Target, { kind: 'mail' }>;

interface MailTargetProps {
  target: Mail;
  report: TargetsSectionProps['report'];
  fields: readonly FieldFacts[];
  hasPeople: boolean;
  /** Each part is for a person. */
  hasPerson: boolean;
  onChange: (target: Mail) => void;
}

const MailTarget = ({ target, report, fields, hasPeople, hasPerson, onChange }: MailTargetProps) => {
  const { t } = useTranslation();
  const subject = useRef<HTMLInputElement>(null);
  const words = useRef<HTMLTextAreaElement>(null);
  const names = [
    ...fields.map(({ name, label }) => ({ value: name, label, group: t('deliveries.ofRow') })),
    ...(report?.definition.parameters ?? []).map(({ name, label }) => ({
      value: name,
      label,
      group: t('deliveries.ofReport'),
    })),
    ...(['report', 'date', 'pages', 'rows', 'owner'] as const).map((value) => ({
      value: value as string,
      label: t(`deliveries.fact_${value}`),
      group: t('deliveries.ofRun'),
    })),
  ];
  /** Puts a name where one was typing. */
  const insert = (
    box: RefObject<HTMLInputElement | HTMLTextAreaElement | null>,
    key: 'subject' | 'words',
    name: string,
  ): void => {
    const at = box.current?.selectionEnd ?? target[key].length;
    onChange({ ...target, [key]: `${target[key].slice(0, at)}{${name}}${target[key].slice(at)}` });
    requestAnimationFrame(() => {
      box.current?.focus();
      box.current?.setSelectionRange(at + name.length + 2, at + name.length + 2);
    });
  };
  const insertBox = (box: RefObject<HTMLInputElement | HTMLTextAreaElement | null>, key: 'subject' | 'words') => (
    <Select
      label={t(`deliveries.insertInto_${key}`)}
      look="quiet"
      value=""
      blank={t('deliveries.insert')}
      choices={names}
      onPick={(name) => insert(box, key, name)}
    />
  );
  return (
    <>
      <Row label={t('deliveries.recipients')}>
        <Recipients {...{ target, fields, hasPeople, hasPerson }} onChange={(to) => onChange({ ...target, to })} />
      </Row>
      <Row label={t('deliveries.subject')}>
        <input
          ref={subject}
          className={`${inputLook} max-w-xl flex-1`}
          aria-label={t('deliveries.subject')}
          maxLength={500}
          value={target.subject}
          onChange={(event) => onChange({ ...target, subject: event.target.value })}
        />
        {insertBox(subject, 'subject')}
      </Row>
      <Row label={t('deliveries.words')}>
        <textarea
          ref={words}
          className={`${inputLook} h-auto! max-w-xl flex-1 py-1`}
          aria-label={t('deliveries.words')}
          rows={4}
          maxLength={20_000}
          value={target.words}
          onChange={(event) => onChange({ ...target, words: event.target.value })}
        />
        {insertBox(words, 'words')}
      </Row>
      <Row label="">
        <label className="inline-flex items-center gap-1">
          <input
            type="checkbox"
            checked={target.together}
            onChange={(event) => onChange({ ...target, together: event.target.checked })}
          />
          {t('deliveries.together')}
        </label>
      </Row>
    </>
  );
};

/** Somebody who was named, and can be removed. */
const Chip = ({ words, onRemove }: { words: string; onRemove: () => void }) => {
  const { t } = useTranslation();
  return (
    <span className="inline-flex max-w-full items-center rounded-full border border-rule ps-2" data-recipient>
      <span className="truncate">{words}</span>
      <IconButton
        label={t('deliveries.removeRecipient', { name: words })}
        className="size-6! flex-none"
        onClick={onRemove}
      >
        <X size={12} />
      </IconButton>
    </span>
  );
};

type RecipientKind = 'address' | 'user' | 'group' | 'field' | 'person';

const Recipients = ({
  target,
  fields,
  hasPeople,
  hasPerson,
  onChange,
}: Pick<MailTargetProps, 'target' | 'fields' | 'hasPeople' | 'hasPerson'> & {
  onChange: (to: Recipient[]) => void;
}) => {
  const { t } = useTranslation();
  const [kind, setKind] = useState<RecipientKind>('address');
  const [typed, setTyped] = useState('');
  const [isWrong, setIsWrong] = useState(false);
  const { to } = target;
  const kinds: RecipientKind[] = [
    'address',
    ...(hasPeople ? (['user', 'group'] as const) : []),
    ...(hasPerson ? (['person'] as const) : []),
    ...(fields.length > 0 ? (['field'] as const) : []),
  ];
  const add = (one: Recipient): void => {
    const key = JSON.stringify(one);
    if (!to.some((other) => JSON.stringify(other) === key)) onChange([...to, one]);
    setTyped('');
  };
  const take = (): void => {
    const value = typed.trim();
    if (value === '') return;
    const fits = kind !== 'address' || addressSchema.safeParse(value).success;
    setIsWrong(!fits);
    if (fits) add(kind === 'address' ? { address: value } : kind === 'user' ? { user: value } : { group: value });
  };
  return (
    <>
      {to.map((one, i) => (
        <Chip
          key={JSON.stringify(one)}
          words={recipientWords(one, t)}
          onRemove={() => onChange(to.filter((_, j) => j !== i))}
        />
      ))}
      <Select
        label={t('deliveries.recipientKind')}
        className="w-32!"
        value={kind}
        choices={kinds.map((value) => ({ value, label: t(`deliveries.recipient_${value}`) }))}
        onPick={(next) => {
          setIsWrong(false);
          if (next === 'person') add({ person: true });
          else setKind(next);
        }}
      />
      {kind === 'field' ? (
        <Select
          label={t('deliveries.field')}
          className="w-44!"
          value=""
          blank={t('deliveries.field')}
          choices={fields.filter(({ type }) => type === 'text').map(({ name, label }) => ({ value: name, label }))}
          onPick={(field) => add({ field })}
        />
      ) : (
        <input
          className={`${inputLook} w-60! ${isWrong ? 'border-rust!' : ''}`}
          aria-label={t('deliveries.recipient')}
          aria-invalid={isWrong}
          placeholder={kind === 'address' ? 'office@cumeeira.example' : ''}
          maxLength={254}
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          onBlur={take}
          onKeyDown={(event) => {
            if (event.key !== 'Enter' && event.key !== ',') return;
            event.preventDefault();
            take();
          }}
        />
      )}
      {isWrong && (
        <span role="alert" className="text-rust">
          {t('deliveries.wrongAddress')}
        </span>
      )}
    </>
  );
};

/** Who else may see what is kept. */
const KeptTarget = ({
  principals,
  onChange,
}: {
  principals: readonly string[];
  onChange: (next: string[]) => void;
}) => {
  const { t } = useTranslation();
  const [kind, setKind] = useState<'user' | 'group' | 'everybody'>('group');
  const [typed, setTyped] = useState('');
  const words = (principal: string): string => {
    if (principal === 'everybody') return t('deliveries.keptFor_everybody');
    const [which, ...name] = principal.split(':');
    return which === 'group' ? t('deliveries.toGroup', { name: name.join(':') }) : name.join(':');
  };
  const add = (principal: string): void => {
    if (!principals.includes(principal)) onChange([...principals, principal]);
    setTyped('');
  };
  return (
    <Row label={t('deliveries.keptFor')}>
      <span className="rounded-full border border-rule px-2">{t('deliveries.keptOwner')}</span>
      {principals.map((one) => (
        <Chip key={one} words={words(one)} onRemove={() => onChange(principals.filter((other) => other !== one))} />
      ))}
      <Select
        label={t('deliveries.recipientKind')}
        className="w-32!"
        value={kind}
        choices={(['group', 'user', 'everybody'] as const).map((value) => ({
          value,
          label: t(`deliveries.keptFor_${value}`),
        }))}
        onPick={(next) => {
          if (next === 'everybody') add('everybody');
          else setKind(next);
        }}
      />
      <input
        className={`${inputLook} w-44!`}
        aria-label={t('deliveries.keptFor')}
        maxLength={200}
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={() => typed.trim() !== '' && add(`${kind}:${typed.trim()}`)}
        onKeyDown={(event) => {
          if (event.key !== 'Enter') return;
          event.preventDefault();
          if (typed.trim() !== '') add(`${kind}:${typed.trim()}`);
        }}
      />
    </Row>
  );
};
