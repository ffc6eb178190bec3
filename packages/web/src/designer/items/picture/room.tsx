import type { ItemOf } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { Image, Upload } from 'lucide-react';
import { useRef, useState } from 'react';
import { libraryQueries } from '../../../api/library.ts';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { CommitBox } from '../../../ui/commit.tsx';
import { Button } from '../../../ui/controls.tsx';
import { PictureInput } from '../../../ui/picture-input.tsx';
import { Select } from '../../../ui/select.tsx';
import { FormulaBox } from '../../formula/formula-box.tsx';
import { ByFormula, quoted } from '../../settings/by-formula.tsx';
import type { Chosen } from '../../settings/item-context.ts';
import { Opacity } from '../../settings/look-parts.tsx';
import { Section, Setting } from '../../settings/setting.tsx';
import type { BoardProps, ItemRoom } from '../room.ts';
import { LibraryPicture } from './library-picture.tsx';

const FITS = ['whole', 'fill', 'stretch', 'real'] as const;

const Content = ({ item, chosen }: { item: ItemOf<'picture'>; chosen: Chosen }) => {
  const { t } = useTranslation();
  const file = useRef<HTMLInputElement>(null);
  const [failure, setFailure] = useState<string | null>(null);
  return (
    <Section title={t('designer.content')} section="content">
      <Setting label={t('picture.file')}>
        <span>
          <Button onClick={() => file.current?.click()}>
            <Upload size={13} aria-hidden /> {t(item.source ? 'picture.replace' : 'picture.choose')}
          </Button>
          <PictureInput
            input={file}
            label={t('picture.choose')}
            onPicture={(source) => chosen.set(t('kinds.picture'), { source, formula: null, fromLibrary: null })}
            onProblem={setFailure}
          />
        </span>
      </Setting>
      <Setting label={t('picture.library')}>
        <LibraryPicture item={item} chosen={chosen} />
      </Setting>
      {failure && (
        <p role="alert" className="text-rust">
          {failure}
        </p>
      )}
      <Setting label={t('picture.fromField')} wide>
        <FormulaBox
          key={item.id}
          label={t('picture.fromField')}
          setting="formula"
          value={item.formula ?? ''}
          address={chosen.address}
          placeholder={t('picture.fieldExample')}
          onCommit={(formula) =>
            chosen.set(
              t('kinds.picture'),
              formula.trim() === '' ? { formula: null } : { formula, source: null, fromLibrary: null },
            )
          }
        />
      </Setting>
      <ByFormula holder={chosen} name="fit" label={t('picture.fit')} start={quoted(item.fit)}>
        <Select
          label={t('picture.fit')}
          value={item.fit}
          choices={FITS.map((value) => ({ value, label: t(`picture.fit_${value}`) }))}
          onPick={(fit) => chosen.set(t('picture.fit'), { fit })}
        />
      </ByFormula>
      <ByFormula holder={chosen} name="alternative" label={t('picture.alternative')} start={quoted(item.alternative)}>
        <CommitBox
          label={t('picture.alternative')}
          value={item.alternative}
          placeholder={t('picture.alternativeHelp')}
          onCommit={(alternative) => chosen.set(t('picture.alternative'), { alternative })}
        />
      </ByFormula>
    </Section>
  );
};
/** How pictures look. */
const Look = ({ chosen }: { chosen: Chosen }) => {
  const { t } = useTranslation();
  return (
    <Section title={t('designer.look')} section="look">
      <Opacity chosen={chosen} />
    </Section>
  );
};

const OBJECT_FITS = {
  whole: 'object-contain',
  fill: 'object-cover',
  stretch: 'object-fill',
  real: 'object-none',
} as const;

/** On the board. */
const Board = ({ item }: BoardProps<'picture'>) => {
  const { t } = useTranslation();
  const { data: kept } = useQuery({
    ...libraryQueries.definition(item.fromLibrary ?? ''),
    enabled: item.fromLibrary !== undefined,
  });
  const source = item.source ?? (kept && 'source' in kept.definition ? kept.definition.source : null);
  return source ? (
    <img src={source} alt={item.alternative} className={`size-full ${OBJECT_FITS[item.fit]}`} draggable={false} />
  ) : (
    <div className="grid size-full place-items-center overflow-hidden border border-rule bg-brass-soft/40 text-[11px] text-ink-3">
      {item.formula || item.alternative || t('kinds.picture')}
    </div>
  );
};

export const pictureRoom: ItemRoom<'picture'> = { Board, Content, Look, add: { id: 'picture', icon: Image } };
