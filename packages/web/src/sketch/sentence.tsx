import {
  type Field,
  type Reached,
  type Sketch,
  withColumn,
  withCondition,
  withFirst,
  withGroup,
} from '@gaveta/core/internal';
import { X } from 'lucide-react';
import { Popover } from 'radix-ui';
import { type ReactNode, useState } from 'react';
import { sourceLabel } from '../data/sources.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { IconButton } from '../ui/controls.tsx';
import { Panel } from '../ui/panel.tsx';
import { ColumnPanel } from './column-panel.tsx';
import { useDrag } from './drag.ts';
import { FieldPick } from './field-pick.tsx';
import { FilterPanel } from './filter.tsx';
import { GroupPanel } from './group-panel.tsx';
import { OrderPanel } from './order-panel.tsx';
import { shownPaths, useParts } from './parts.ts';
import { columnLabel, conditionWords, groupLabel, inSentence, orderWords } from './words.ts';

const TONES = {
  column: 'border-pine',
  group: 'border-brass',
  plain: 'border-ink-3',
} as const;

interface WordProps {
  label: string;
  tone: keyof typeof TONES;
  /** What a press opens. */
  children: (close: () => void) => ReactNode;
  width?: string;
  id: string;
}

/** A word of the sentence that is pressed to change what it says. */
const Word = ({ label, tone, children, width = 'w-72', id }: WordProps) => {
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <button
          type="button"
          data-word={id}
          className={`max-w-[40ch] truncate rounded-t border-b-2 px-0.5 align-bottom font-semibold hover:bg-pine-soft/60 ${TONES[tone]}`}
        >
          {label}
        </button>
      </Popover.Trigger>
      <Panel label={label} align="start" className={`${width} max-w-[94vw] overflow-auto [--panel-height:560px]`}>
        {children(() => setOpen(false))}
      </Panel>
    </Popover.Root>
  );
};

/** Parts with commas and “and” between them, each part as it is. */
const Listed = ({ parts, and }: { parts: readonly ReactNode[]; and: string }) =>
  parts.map((part, i) => (
    // biome-ignore lint/suspicious/noArrayIndexKey: words are told apart by their place
    <span key={i}>
      {i === 0 ? '' : i === parts.length - 1 ? ` ${and} ` : ', '}
      {part}
    </span>
  ));

/** Where fields are dropped on the sentence, lit up while one is over it. */
const Zone = ({ zone, children }: { zone: string; children: ReactNode }) => {
  const isOver = useDrag((drag) => drag.over === zone);
  const isDragging = useDrag((drag) => drag.dragged !== null);
  return (
    <span
      data-drop={zone}
      className={`rounded ${isDragging ? 'outline-1 outline-dashed outline-ink-3' : ''} ${isOver ? 'bg-pine-soft outline-pine!' : ''}`}
    >
      {children}
    </span>
  );
};

/** The question in words, each of which can be pressed. */
export const Sentence = ({ onRows }: { onRows: () => ReactNode }) => {
  const { t, i18n } = useTranslation();
  const { sketch, change, reach, models, recipes, isReading, fixed } = useParts();
  const [added, setAdded] = useState<string | null>(null);
  const says = (label: string): string => inSentence(label, i18n.language);
  const { groups, first, only } = sketch;
  const columns = sketch.columns.filter(({ hidden }) => !hidden);
  const and = t('sketch.and');
  const order = orderWords(t, sketch, reach);
  const ofFirst = first && groups.findIndex(({ name }) => name === first.of);
  const around = ofFirst !== undefined && ofFirst > 0 ? groups[ofFirst - 1] : undefined;
  const shown = shownPaths(sketch);
  const isOne = (_: Field, at: Reached): boolean => !at.isMany;
  return (
    <p data-testid="sentence" className="px-4 py-2.5 text-[15px] leading-8">
      {t('sketch.show')}{' '}
      <Word id="rows" tone="plain" label={t(sketch.rows ? 'sketch.eachRow' : 'sketch.totals')} width="w-56">
        {(close) => <RowsChoice onClose={close} />}
      </Word>{' '}
      {t('sketch.of')}{' '}
      <Word id="from" tone="plain" label={says(sourceLabel(sketch.from, models, recipes))} width="w-80">
        {() => onRows()}
      </Word>
      {': '}
      <Zone zone="columns">
        {columns.length === 0 && <span className="text-ink-3">{t('sketch.noColumns')} </span>}
        <Listed
          and={and}
          parts={columns.map((column) => (
            <Word key={column.name} id={`column ${column.name}`} tone="column" label={says(columnLabel(column, reach))}>
              {(close) => <ColumnPanel name={column.name} onClose={close} />}
            </Word>
          ))}
        />{' '}
        {!isReading && (
          <FieldPick
            id="column"
            label={t('sketch.addColumn')}
            takes={() => true}
            onPick={(path) => change(withColumn(sketch, path, reach))}
          />
        )}
      </Zone>
      {(groups.length > 0 || !isReading) && (
        <Zone zone="groups">
          {' '}
          {t('sketch.forEach')} {groups.length === 0 && <span className="text-ink-3">{t('sketch.nothing')} </span>}
          <Listed
            and={and}
            parts={groups.map((group) => (
              <Word
                key={group.name}
                id={`group ${group.name}`}
                tone="group"
                label={says(groupWords(t, group, groupLabel(group, reach)))}
              >
                {(close) => <GroupPanel name={group.name} onClose={close} />}
              </Word>
            ))}
          />{' '}
          {!isReading && groups.length < 8 && (
            <FieldPick
              id="group"
              label={t('sketch.addGroup')}
              takes={isOne}
              onPick={(path) => change(withGroup(sketch, path, reach, t('sketch.rowCount')))}
            />
          )}
        </Zone>
      )}
      <Zone zone="only">
        {', '}
        {t('sketch.only')} {only.length === 0 && <span className="text-ink-3">{t('sketch.everything')} </span>}
        <Listed
          and={and}
          parts={only.map((condition, i) => (
            <Word
              // biome-ignore lint/suspicious/noArrayIndexKey: conditions are told apart by their place
              key={i}
              id={`only ${i}`}
              tone="group"
              label={conditionWords(t, condition, reach, sketch)}
            >
              {(close) => (
                <div className="flex flex-col gap-2 p-3">
                  {'field' in condition && i >= fixed && condition.per === undefined ? (
                    <FilterPanel path={condition.field} />
                  ) : (
                    <span>{conditionWords(t, condition, reach, sketch)}</span>
                  )}
                  {i >= fixed && (
                    <button
                      type="button"
                      className="self-start rounded px-1 text-pine hover:bg-pine-soft"
                      onClick={() => {
                        close();
                        change(withCondition(sketch, i, null));
                      }}
                    >
                      {t('sketch.removeCondition')}
                    </button>
                  )}
                </div>
              )}
            </Word>
          ))}
        />{' '}
        <FieldPick
          id="only"
          label={t('sketch.addCondition')}
          takes={(field, at) => !at.isMany && (!isReading || shown.has([...at.way, field.name].join('.')))}
          onPick={setAdded}
        />
        {added !== null && (
          <span className="relative inline-block">
            <Popover.Root open onOpenChange={() => setAdded(null)}>
              <Popover.Anchor />
              <Panel
                label={t('sketch.addCondition')}
                align="start"
                className="w-72 overflow-auto p-3 [--panel-height:560px]"
              >
                <FilterPanel path={added} />
              </Panel>
            </Popover.Root>
          </span>
        )}
      </Zone>
      {', '}
      <Word id="order" tone="group" label={order ?? t('sketch.noOrder')} width="w-64">
        {() => <OrderPanel />}
      </Word>
      {first && ofFirst !== undefined && ofFirst >= 0 && (
        <>
          {', '}
          <Word
            id="first"
            tone="group"
            label={t(around ? 'sketch.theFirstOf' : 'sketch.theFirst', {
              count: first.count,
              of: says(groupLabel(groups[ofFirst]!, reach)),
              around: around ? says(groupLabel(around, reach)) : '',
            })}
          >
            {(close) => (
              <>
                <GroupPanel name={first.of} onClose={close} />
              </>
            )}
          </Word>
          {!isReading && (
            <IconButton
              label={t('sketch.keepAllGroups')}
              className="size-5! align-middle"
              onClick={() => change(withFirst(sketch, first.of, null))}
            >
              <X size={12} />
            </IconButton>
          )}
        </>
      )}
      .
    </p>
  );
};

/** A group in the sentence; dates say by which period. */
const groupWords = (
  t: ReturnType<typeof useTranslation>['t'],
  { per }: Sketch['groups'][number],
  label: string,
): string => (per === undefined ? label : t('sketch.periodOf', { per: t(`data.per_${per}`), of: label }));

/** Each row, or the totals alone. */
const RowsChoice = ({ onClose }: { onClose: () => void }) => {
  const { t } = useTranslation();
  const { sketch, change, isReading } = useParts();
  return (
    <div className="flex flex-col p-1.5">
      {([true, false] as const).map((rows) => (
        <button
          key={String(rows)}
          type="button"
          aria-pressed={rows === sketch.rows}
          disabled={isReading}
          className={`rounded px-2 py-1 text-start hover:bg-pine-soft ${rows === sketch.rows ? 'font-semibold' : ''}`}
          onClick={() => {
            onClose();
            change({ ...sketch, rows });
          }}
        >
          {t(rows ? 'sketch.eachRow' : 'sketch.totals')}
        </button>
      ))}
    </div>
  );
};
