import type { Look } from '@gaveta/core/internal';
import { Bold, Italic } from 'lucide-react';
import { useTranslation } from 'react-i18next';
import { ColorBox } from '../../ui/color-box.tsx';
import { NumberBox, Toggle } from '../../ui/commit.tsx';
import { Setting } from './setting.tsx';

/** The type of what an item writes by itself: size, weight and colour. */
export const ItemType = ({ look, onChange }: { look: Look; onChange: (look: Look | null) => void }) => {
  const { t } = useTranslation();
  const put = (next: { [K in keyof Look]: Look[K] | null | undefined }): void => {
    const all = Object.entries({ ...look, ...next }).filter(([, value]) => value !== null && value !== undefined);
    onChange(all.length > 0 ? (Object.fromEntries(all) as Look) : null);
  };
  return (
    <Setting label={t('look.type')}>
      <span className="flex items-center gap-1">
        <span className="w-11 flex-none">
          <NumberBox
            label={t('designer.size')}
            unit=""
            value={look.size}
            least={4}
            most={72}
            onCommit={(size) => put({ size })}
            onClear={() => put({ size: null })}
          />
        </span>
        <Toggle label={t('designer.bold')} on={look.bold ?? false} onClick={() => put({ bold: !look.bold || null })}>
          <Bold size={13} />
        </Toggle>
        <Toggle
          label={t('designer.italic')}
          on={look.italic ?? false}
          onClick={() => put({ italic: !look.italic || null })}
        >
          <Italic size={13} />
        </Toggle>
        <ColorBox
          label={t('designer.color')}
          value={look.color}
          onPick={(color) => put({ color })}
          onClear={() => put({ color: null })}
        />
      </span>
    </Setting>
  );
};
