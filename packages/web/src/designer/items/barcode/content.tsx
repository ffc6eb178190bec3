import { BARCODES, FLAT_CODES, type ItemOf } from '@gaveta/core/internal';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { Select } from '../../../ui/select.tsx';
import { ByFormula, CheckByFormula, quoted } from '../../settings/by-formula.tsx';
import type { Chosen } from '../../settings/item-context.ts';
import { OwnFormula } from '../../settings/own-formula.tsx';
import { Section } from '../../settings/setting.tsx';

const CORRECTIONS = ['low', 'medium', 'quarter', 'high'] as const;

/** What a barcode says, and in which code. */
export const BarcodeContent = ({ item, chosen }: { item: ItemOf<'barcode'>; chosen: Chosen }) => {
  const { t } = useTranslation();
  return (
    <Section
      title={t('designer.content')}
      section="content"
      more={
        <CheckByFormula
          holder={chosen}
          name="quiet"
          label={t('barcode.quiet')}
          checked={item.quiet !== false}
          onChange={(on) => chosen.set(t('barcode.quiet'), { quiet: on ? null : false })}
        />
      }
    >
      <OwnFormula label={t('barcode.says')} item={item} chosen={chosen} />
      <ByFormula holder={chosen} name="code" label={t('barcode.code')} start={quoted(item.code)}>
        <Select
          label={t('barcode.code')}
          value={item.code}
          choices={BARCODES.map((value) => ({ value, label: t(`barcode.code_${value}`) }))}
          onPick={(code) => chosen.set(t('barcode.code'), { code })}
        />
      </ByFormula>
      {FLAT_CODES.has(item.code) && (
        <CheckByFormula
          holder={chosen}
          name="text"
          label={t('barcode.text')}
          checked={item.text !== false}
          onChange={(on) => chosen.set(t('barcode.text'), { text: on ? null : false })}
        />
      )}
      {item.code === 'qr' && (
        <ByFormula
          holder={chosen}
          name="correction"
          label={t('barcode.correction')}
          start={quoted(item.correction ?? 'medium')}
        >
          <Select
            label={t('barcode.correction')}
            value={item.correction ?? 'medium'}
            choices={CORRECTIONS.map((value) => ({ value, label: t(`barcode.correction_${value}`) }))}
            onPick={(correction) => chosen.set(t('barcode.correction'), { correction })}
          />
        </ByFormula>
      )}
    </Section>
  );
};
