import { Maximize2, Minimize2 } from 'lucide-react';
import { type CSSProperties, type ReactNode, useEffect } from 'react';
import { Group, Panel, Separator } from 'react-resizable-panels';
import { useTranslation } from '../i18n/use-translation.ts';
import { keepShares, keptShares, toggleWide, useScreen } from './design/columns-of-screen.ts';

interface ColumnsProps {
  lists: ReactNode;
  board: ReactNode;
  /** Null while it is switched off. */
  live: ReactNode | null;
}

/** Width of the lists at first, in CSS pixels: more where the screen is wide. */
const listsWidth = (): number => Math.min(380, Math.max(256, window.innerWidth * 0.13));

/** The columns of the designer, which are resized by dragging or by keys; a double click gives them the width that they had at first. */
export const ScreenColumns = ({ lists, board, live }: ColumnsProps) => {
  const { t } = useTranslation();
  const hasLive = live !== null;
  const asked = useScreen((s) => s.wide);
  const width = useScreen((s) => s.lists);
  const wide = asked === 'live' && !hasLive ? null : asked;
  // What is opened next begins with all of its columns.
  useEffect(() => () => useScreen.setState({ wide: null }), []);
  const shares = keptShares(hasLive);
  return (
    <Group
      // Columns are shared out anew with each number of them.
      key={String(hasLive)}
      orientation="horizontal"
      role="main"
      // What leaves its width to one of the others is hidden; see styles.css.
      data-wide={wide ?? undefined}
      className="screen-columns min-h-0"
      style={{ '--lists': `${width}px` } as CSSProperties}
      {...(shares ? { defaultLayout: shares } : {})}
      onLayoutChanged={(layout, { isUserInteraction }) => {
        if (isUserInteraction) keepShares(hasLive, layout);
      }}
    >
      <Panel
        id="column-lists"
        defaultSize={listsWidth()}
        minSize={200}
        maxSize={560}
        groupResizeBehavior="preserve-pixel-size"
      >
        {lists}
      </Panel>
      <Line label={t('board.resizeLists')} />
      <Panel id="column-board" minSize={280}>
        {board}
      </Panel>
      {hasLive && <Line label={t('board.resizeLive')} />}
      {hasLive && (
        <Panel id="column-live" defaultSize="37%" minSize={220}>
          {live}
        </Panel>
      )}
    </Group>
  );
};

/** Gives a column the whole width, and takes it back. */
export const WideButton = ({ part }: { part: 'board' | 'live' }) => {
  const { t } = useTranslation();
  const isWide = useScreen((s) => s.wide === part);
  const Picture = isWide ? Minimize2 : Maximize2;
  const label = t(part === 'board' ? 'command.wideBoard' : 'command.wideLive');
  return (
    <button
      type="button"
      aria-label={label}
      aria-pressed={isWide}
      title={label}
      className="grid size-6 flex-none place-items-center rounded hover:bg-desk/60 aria-pressed:text-brass"
      onClick={() => toggleWide(part)}
    >
      <Picture size={13} aria-hidden />
    </button>
  );
};

/** The line between two columns, which is dragged. */
const Line = ({ label }: { label: string }) => (
  <Separator
    aria-label={label}
    title={label}
    className="relative w-px bg-rule outline-none after:absolute after:inset-y-0 after:-start-[3px] after:z-30 after:w-[7px] hover:after:bg-brass/40 focus-visible:after:bg-brass data-[separator=active]:after:bg-brass/60"
  />
);
