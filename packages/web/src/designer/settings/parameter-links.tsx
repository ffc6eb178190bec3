import type { BandAddress, Parameter } from '@gaveta/core/internal';
import { Check } from 'lucide-react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { problemWords } from '../../i18n/words.ts';
import { useLiveView } from '../design/context.ts';
import { FormulaBox } from '../formula/formula-box.tsx';
import { Setting } from './setting.tsx';

interface LinksProps {
  /** The other report's. */
  parameters: readonly Parameter[];
  links: Readonly<Record<string, string>>;
  address: BandAddress;
  /** The item whose links they are, and where it has them: `links`, `link/parameters`. */
  item: string;
  path: string;
  onChange: (links: Record<string, string>) => void;
}

/** What the parameters of another report get, each checked while it is chosen. */
export const ParameterLinks = ({ parameters, links, address, item, path, onChange }: LinksProps) => {
  const { t } = useTranslation();
  const problems = useLiveView((view) => view.problems);
  return parameters.map((p) => {
    const formula = links[p.name];
    const wrong = problems.find(
      ({ code, place, data }) =>
        place.report === undefined &&
        place.item === item &&
        (place.path?.endsWith(`/${path}/${p.name}`) || (code === 'missing-link' && data.name === p.name)),
    );
    return (
      <Setting key={p.name} label={p.label} wide>
        <FormulaBox
          label={t('subreport.link', { name: p.label })}
          value={formula ?? ''}
          address={address}
          placeholder={t(p.required ? 'subreport.needed' : 'subreport.optional')}
          onCommit={(text) => {
            const { [p.name]: _, ...others } = links;
            onChange(text.trim() === '' ? others : { ...others, [p.name]: text });
          }}
        />
        {wrong ? (
          <p role="alert" className="text-[11.5px] text-rust">
            {problemWords(wrong)}
          </p>
        ) : (
          formula !== undefined && (
            <p className="flex items-center gap-1 text-[11.5px] text-pine">
              <Check size={12} aria-hidden /> {t('subreport.fits', { type: t(`data.type_${p.type}`) })}
            </p>
          )
        )}
      </Setting>
    );
  });
};
