import { Star } from 'lucide-react';
import { type KeyboardEvent, type ReactNode, useRef } from 'react';
import { Link, useNavigate } from 'react-router';
import type { Thing } from '../api/library.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { startDrag } from '../ui/drag.ts';
import { FirstPage } from '../ui/first-page.tsx';
import { isAtLeast } from '../ui/folder-tree.ts';
import { addressOf, isRun } from './address.ts';
import { KindMark } from './kind-mark.tsx';
import { stepOf } from './spot.ts';
import type { Look } from './use-spot.ts';

interface ThingsProps {
  look: Look;
  things: readonly Thing[];
  selected: string | null;
  canDesign: boolean;
  onSelect: (id: string) => void;
  onDrop: (thing: Thing, zone: string) => void;
  onDelete: (thing: Thing) => void;
  onRename: (thing: Thing) => void;
  /** What can be done with a thing, at its edge. */
  menu: (thing: Thing) => ReactNode;
}

/** What is in a place, as pictures of first pages or as lines. Arrows go from one to the next, Enter opens. */
export const Things = (props: ThingsProps) => {
  const { look, things, selected, canDesign, onSelect, onDrop, onDelete, onRename, menu } = props;
  const { t } = useTranslation();
  const navigate = useNavigate();
  const list = useRef<HTMLUListElement>(null);
  const focusAt = (at: number): void => {
    const thing = things[at];
    if (!thing) return;
    onSelect(thing.id);
    list.current?.querySelectorAll<HTMLElement>('[data-thing]')[at]?.focus();
  };
  /** Tiles in one row. */
  const across = (): number => {
    const tops = [...(list.current?.querySelectorAll<HTMLElement>('[data-thing]') ?? [])].map((one) => one.offsetTop);
    return Math.max(1, tops.filter((top) => top === tops[0]).length);
  };
  const key = (event: KeyboardEvent, thing: Thing, at: number): void => {
    if (event.target !== event.currentTarget) return;
    const step = stepOf(event.key, look, across());
    const mayChange = canDesign && isAtLeast(thing.may, 'change');
    if (step !== null) {
      const last = things.length - 1;
      focusAt(step === 'first' ? 0 : step === 'last' ? last : Math.max(0, Math.min(last, at + step)));
    } else if (event.key === 'Enter') navigate(addressOf(thing));
    else if (event.key === 'Delete' && mayChange) onDelete(thing);
    else if (event.key === 'F2' && mayChange) onRename(thing);
    else return;
    event.preventDefault();
  };
  return (
    <ul
      ref={list}
      aria-label={t('library.things')}
      className={
        look === 'tiles' ? 'grid grid-cols-[repeat(auto-fill,minmax(150px,1fr))] gap-4' : 'divide-y divide-rule-soft'
      }
    >
      {things.map((thing, at) => {
        const isSelected = thing.id === selected;
        const mayChange = canDesign && isAtLeast(thing.may, 'change');
        const shared = {
          'data-thing': thing.id,
          'aria-current': isSelected ? ('true' as const) : undefined,
          // The one that is selected, or else the first, is reached by Tab.
          tabIndex: isSelected || (at === 0 && !things.some(({ id }) => id === selected)) ? 0 : -1,
          onClick: () => onSelect(thing.id),
          onDoubleClick: () => navigate(addressOf(thing)),
          onKeyDown: (event: KeyboardEvent) => key(event, thing, at),
          onPointerDown: (event: React.PointerEvent) => {
            if (mayChange && !(event.target as HTMLElement).closest('button'))
              startDrag(event, { what: thing.id, label: thing.name }, (zone) => onDrop(thing, zone));
          },
        };
        return look === 'tiles' ? (
          <li key={thing.id} {...shared} className="group relative min-w-0 rounded-md outline-offset-2">
            <span
              className={`relative block h-[172px] overflow-hidden border bg-sheet ${isSelected ? 'border-pine outline-2 outline-pine' : 'border-rule group-hover:border-ink-3'}`}
            >
              {isEntry(thing) ? <KindMark thing={thing} /> : <FirstPage thing={thing} />}
              <Badge thing={thing} />
            </span>
            <span className="mt-1.5 flex items-start gap-1">
              <span className="min-w-0 flex-1">
                <Name thing={thing} />
                <Below thing={thing} />
              </span>
              {menu(thing)}
            </span>
          </li>
        ) : (
          <li
            key={thing.id}
            {...shared}
            className={`flex items-center gap-3 px-1.5 py-1.5 outline-offset-[-2px] ${isSelected ? 'bg-pine-soft' : 'hover:bg-desk/40'}`}
          >
            <span className="relative h-10 w-8 flex-none overflow-hidden border border-rule bg-sheet max-sm:hidden">
              {isEntry(thing) ? <KindMark thing={thing} isSmall /> : <FirstPage thing={thing} isSmall />}
            </span>
            <span className="min-w-0 flex-1">
              <Name thing={thing} />
              <Below thing={thing} />
            </span>
            {thing.note !== '' && (
              <span className="min-w-0 flex-1 truncate text-ink-2 max-md:hidden">{thing.note}</span>
            )}
            <span className="relative flex-none">
              <Badge thing={thing} isInline />
            </span>
            {menu(thing)}
          </li>
        );
      })}
    </ul>
  );
};

/** What is drawn by a sign of its own: it has no page. */
const isEntry = ({ kind }: Thing): boolean => kind === 'recipe' || kind === 'connection';

const Name = ({ thing }: { thing: Thing }) => {
  const { t } = useTranslation();
  return (
    <span className="flex min-w-0 items-center gap-1">
      <Link
        to={addressOf(thing)}
        // A press opens it; it is no drag of an address.
        draggable={false}
        className="min-w-0 truncate rounded font-semibold hover:text-pine"
        title={thing.name}
        onClick={(event) => event.stopPropagation()}
      >
        <span>{thing.name}</span>
      </Link>
      {thing.isStarred && (
        <Star size={12} role="img" aria-label={t('library.isStarred')} className="flex-none fill-brass text-brass" />
      )}
    </span>
  );
};

const Below = ({ thing }: { thing: Thing }) => {
  const { t, i18n } = useTranslation();
  const when = new Intl.DateTimeFormat(i18n.language, { dateStyle: 'medium' }).format(new Date(thing.changedAt));
  const { revision, changedBy: who } = thing;
  return (
    <span className="block truncate text-[12px] text-ink-3">
      {thing.kind !== 'report' && `${t(`library.kind_${thing.kind}`)}, `}
      {thing.isTemplate && `${t('library.template')}, `}
      {t('library.changed', { revision, who, when })}
    </span>
  );
};

/** Whether readers see it as it is. */
const Badge = ({ thing, isInline = false }: { thing: Thing; isInline?: boolean }) => {
  const { t } = useTranslation();
  if (!isRun(thing) || thing.publishing === 'each-save' || !isAtLeast(thing.may, 'change')) return null;
  const state = thing.asked
    ? 'asked'
    : thing.published === null
      ? 'draft'
      : thing.published < thing.revision
        ? 'ahead'
        : 'published';
  return (
    <span
      className={`rounded-full bg-brass-soft px-2 py-px text-[11px] text-ink-2 ${isInline ? '' : 'absolute end-1.5 top-1.5'}`}
    >
      {t(`library.state_${state}`)}
    </span>
  );
};
