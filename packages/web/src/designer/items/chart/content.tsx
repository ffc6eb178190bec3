import { CHART_TYPES, type ChartPart, chartParts, fieldPartsOf } from '@gaveta/core/internal';
import { ChevronDown, ChevronRight } from 'lucide-react';
import { useEffect, useState } from 'react';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { Pick } from '../../../ui/pick.tsx';
import { useDesign } from '../../design/context.ts';
import type { Chosen } from '../../settings/item-context.ts';
import { Section } from '../../settings/setting.tsx';
import { RowsOf } from '../groups/rows-of.tsx';
import { KindPicture } from './kind-picture.tsx';
import { PartChoices } from './part-choices.tsx';
import { type ChartHands, type ChartItem, useChart } from './use-chart.ts';
import { partWords, tagsOf } from './words.ts';

/** What kind of chart it is, where its rows come from, and what stands in its parts. */
export const ChartContent = ({ item }: { item: ChartItem; chosen: Chosen }) => {
  const { t } = useTranslation();
  const hands = useChart(item);
  const { set } = hands;
  const { live } = useDesign();
  useEffect(() => {
    live.sketch(item.id);
    return () => live.sketch(null);
  }, [live, item.id]);
  return (
    <>
      <Section title={t('chart.kind')} section="kind">
        <div role="radiogroup" aria-label={t('chart.kind')} className="grid grid-cols-5 gap-1">
          {CHART_TYPES.map((type) => (
            // biome-ignore lint/a11y/useSemanticElements: a radio that shows a picture
            <button
              key={type}
              type="button"
              role="radio"
              aria-checked={item.type === type}
              aria-label={t(`chart.type_${type}`)}
              title={t(`chart.type_${type}`)}
              data-type={type}
              className={`grid h-9 place-items-center rounded border ${item.type === type ? 'border-pine bg-pine-soft' : 'border-rule bg-paper hover:border-pine/50'}`}
              onClick={() => set(t('chart.kind'), { type })}
            >
              <KindPicture item={item} type={type} />
            </button>
          ))}
        </div>
      </Section>
      <Section title={t('designer.content')} section="content">
        <RowsOf hands={hands} cleared={{ along: null, split: null, panels: null, measures: [] } as never} />
        {chartParts(item.type).map((part) => (
          <Part key={part.part} hands={hands} part={part} />
        ))}
      </Section>
    </>
  );
};

/** One part: what stands there, each opened by a press, and what can be added. */
const Part = ({ hands, part }: { hands: ChartHands; part: ChartPart }) => {
  const { t } = useTranslation();
  const { item, fields, set } = hands;
  const [open, setOpen] = useState<number | null>(null);
  const tags = tagsOf(t, item, part);
  const isFull = part.part !== 'measures' && tags.length > 0;
  const add = (formula: string): void => {
    const field = fields.find((one) => one.formula === formula);
    const settings = field && fieldPartsOf(item).withField(item, part.part, field);
    if (settings) set(partWords(t, part), settings as Partial<ChartItem>);
  };
  return (
    <div className="my-1.5" data-part-settings={part.part}>
      <h4 className="text-ink-2 first-letter:uppercase">{partWords(t, part)}</h4>
      {tags.map(({ measure, words }, at) => (
        <div key={measure ?? part.part} className="border-s-2 border-brass ps-1.5">
          <button
            type="button"
            aria-expanded={open === at}
            className="flex h-6 w-full items-center gap-1 rounded text-start hover:bg-desk/50"
            onClick={() => setOpen(open === at ? null : at)}
          >
            {open === at ? <ChevronDown size={12} aria-hidden /> : <ChevronRight size={12} aria-hidden />}
            <span className="truncate">{words}</span>
          </button>
          {open === at && <PartChoices hands={hands} part={part} measure={measure} />}
        </div>
      ))}
      {!isFull && (
        <Pick
          label={t(`chart.add_${part.says}`)}
          choices={fields.map(({ formula, label, of }) => ({ value: formula, label, note: of }))}
          onPick={add}
        />
      )}
    </div>
  );
};
