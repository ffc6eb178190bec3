import {
  changeStyle,
  DEFAULT_LOOK,
  itemsOfStyle,
  type Report,
  removeStyle,
  renameStyle,
  type Style,
  styleLook,
} from '@gaveta/core/internal';
import { Bold, Italic, Underline } from 'lucide-react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { ColorBox } from '../../ui/color-box.tsx';
import { CommitBox, NumberBox, Toggle } from '../../ui/commit.tsx';
import { Select } from '../../ui/select.tsx';
import { textLook } from '../design/looks.ts';
import { useDesigner } from '../design/state.ts';
import { Section, Setting } from '../settings/setting.tsx';
import { useFamilies } from '../settings/use-families.ts';
import { styleName } from '../settings/words-look.tsx';

/** The report's named styles, each changed for everything that has it. */
export const StyleSection = ({ report }: { report: Report }) => {
  const { t } = useTranslation();
  const names = Object.keys(report.styles);
  return (
    <Section title={t('styles.title')} section="styles">
      {names.length === 0 && <p className="text-ink-3">{t('styles.none')}</p>}
      {names.map((name) => (
        <details key={name} className="border-t border-rule-soft py-1 first:border-t-0" data-style-name={name}>
          <summary className="cursor-pointer">
            <span style={{ ...textLook(styleLook(report.styles, name), 1), fontSize: 13, display: 'inline' }}>
              {styleName(t, name)}
            </span>
          </summary>
          <StyleEditor report={report} name={name} />
        </details>
      ))}
    </Section>
  );
};

const StyleEditor = ({ report, name }: { report: Report; name: string }) => {
  const { t } = useTranslation();
  const { edit, select } = useDesigner.getState();
  const families = useFamilies();
  const look = styleLook(report.styles, name);
  const users = itemsOfStyle(report, name);
  const change = (next: { [K in keyof Style]: Style[K] | null }): void =>
    edit(t('edits.style', { name }), changeStyle(report, name, next));
  const flip = (key: 'bold' | 'italic' | 'underline'): void => change({ [key]: !look[key] });
  const others = Object.keys(report.styles).filter((other) => other !== name && !isBasedOn(report, other, name));
  return (
    <div className="pt-1 pb-1.5">
      <Setting label={t('styles.name')}>
        <CommitBox
          label={t('styles.name')}
          value={name}
          onCommit={(text) => {
            const to = text.trim().slice(0, 80);
            if (to !== '' && report.styles[to] === undefined)
              edit(t('edits.style', { name }), renameStyle(report, name, to));
          }}
        />
      </Setting>
      <Setting label={t('styles.basedOn')}>
        <Select
          label={t('styles.basedOn')}
          value={report.styles[name]?.basedOn ?? ''}
          choices={[
            { value: '', label: t('look.noStyle') },
            ...others.map((value) => ({ value, label: styleName(t, value) })),
          ]}
          onPick={(basedOn) => change({ basedOn: basedOn === '' ? null : basedOn })}
        />
      </Setting>
      <Setting label={t('designer.font')}>
        <Select
          label={t('designer.font')}
          value={look.font ?? families[0]!}
          choices={families.map((value) => ({ value, label: value }))}
          onPick={(font) => change({ font })}
        />
      </Setting>
      <Setting label={t('designer.size')}>
        <NumberBox
          label={t('designer.size')}
          unit="pt"
          value={look.size ?? DEFAULT_LOOK.size}
          least={1}
          most={500}
          onCommit={(size) => change({ size })}
        />
      </Setting>
      <Setting label={t('designer.color')}>
        <span className="flex items-center gap-1">
          <ColorBox
            label={t('designer.color')}
            value={look.color ?? DEFAULT_LOOK.color}
            onPick={(color) => change({ color })}
          />
          {(
            [
              ['bold', 'designer.bold', Bold],
              ['italic', 'designer.italic', Italic],
              ['underline', 'look.underline', Underline],
            ] as const
          ).map(([key, label, Icon]) => (
            <Toggle key={key} label={t(label)} on={look[key] ?? false} onClick={() => flip(key)}>
              <Icon size={14} />
            </Toggle>
          ))}
        </span>
      </Setting>
      <Setting label={t('look.background')}>
        <ColorBox
          label={t('look.background')}
          value={look.background}
          onPick={(background) => change({ background })}
          onClear={() => change({ background: null })}
        />
      </Setting>
      <div className="mt-1 flex items-center gap-3 text-[12px]">
        <button
          type="button"
          className="text-pine hover:underline disabled:text-ink-3 disabled:no-underline"
          disabled={users.length === 0}
          onClick={() => select(users)}
        >
          {t('styles.users', { count: users.length })}
        </button>
        <button
          type="button"
          className="text-rust hover:underline"
          onClick={() => edit(t('edits.style', { name }), removeStyle(report, name))}
        >
          {t('styles.remove')}
        </button>
      </div>
    </div>
  );
};

/** Whether a style stands on another one, over however many between. */
const isBasedOn = (report: Report, style: string, on: string): boolean => {
  const seen = new Set<string>();
  for (let at = report.styles[style]?.basedOn; at !== undefined && !seen.has(at); at = report.styles[at]?.basedOn) {
    if (at === on) return true;
    seen.add(at);
  }
  return false;
};
