import { findDrawer, findItem, mendFor, type Problem, partAtPath } from '@gaveta/core/internal';
import { Popover } from 'radix-ui';
import { useTranslation } from '../i18n/use-translation.ts';
import { problemKey, problemWords } from '../i18n/words.ts';
import { Button } from '../ui/controls.tsx';
import { Panel } from '../ui/panel.tsx';
import { useDesign, useLiveView } from './design/context.ts';
import { useDesigner } from './design/state.ts';
import { drawerLabel, itemLabel } from './design/words.ts';

/** Goes to where a problem is. */
const goTo = ({ place }: Problem): void => {
  const { history, select, focusOn } = useDesigner.getState();
  if (!history) return;
  const { report } = history;
  if (place.item && findItem(report, place.item)) select([place.item]);
  else if (place.drawer && findDrawer(report, place.drawer)) focusOn({ kind: 'drawer', drawer: place.drawer });
  else focusOn(partAtPath(report, place.path ?? '') ?? { kind: 'report' });
};

/** What is wrong, worst first, each leading to its place. */
export const ProblemsChip = () => {
  const { t } = useTranslation();
  const found = useLiveView((view) => view.problems);
  const problems = [...found].sort((a, b) => Number(a.severity === 'warning') - Number(b.severity === 'warning'));
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Button
          look="chip"
          data-problems
          disabled={problems.length === 0}
          className={problems.length > 0 ? 'border-rust/40 bg-rust-soft text-rust-strong' : ''}
        >
          {t('designer.problems', { count: problems.length })}
        </Button>
      </Popover.Trigger>
      <Panel label={t('command.problems')} align="end" className="w-[440px] p-2 [--panel-height:384px]">
        <ul>
          {problems.map((p) => (
            <li key={problemKey(p)}>
              <span className="flex items-start gap-1">
                <Popover.Close asChild>
                  <button
                    type="button"
                    data-problem={p.code}
                    className="flex min-w-0 flex-1 gap-2 rounded px-2 py-1.5 text-start hover:bg-desk/60"
                    onClick={() => goTo(p)}
                  >
                    <span
                      aria-hidden
                      className={`mt-1.5 size-2 flex-none rounded-full ${p.severity === 'error' ? 'bg-rust' : 'bg-brass'}`}
                    />
                    <span>
                      <span className="sr-only">{t(`designer.severity_${p.severity}`)} </span>
                      {p.place.report ? <b>{p.place.report}: </b> : <PlaceWords problem={p} />}
                      {problemWords(p)}
                    </span>
                  </button>
                </Popover.Close>
                <MendButton problem={p} />
              </span>
            </li>
          ))}
        </ul>
      </Panel>
    </Popover.Root>
  );
};

/** What a problem is about, by the name that the board gives it. */
const PlaceWords = ({ problem: { place } }: { problem: Problem }) => {
  const { t } = useTranslation();
  const { report } = useDesign();
  const names = useDesigner((s) => s.reportNames);
  const found = place.item ? findItem(report, place.item) : null;
  const drawer = !found && place.drawer ? findDrawer(report, place.drawer)?.drawer : undefined;
  const words = found ? itemLabel(t, found.item, names) : drawer && drawerLabel(drawer);
  return words ? <b className="font-semibold">{words}: </b> : null;
};

/** Mends a problem where there is one way that is surely meant. */
const MendButton = ({ problem }: { problem: Problem }) => {
  const { t } = useTranslation();
  const { report, plan } = useDesign();
  const mend = problem.place.report ? null : mendFor(report, problem, plan);
  if (!mend) return null;
  const words = t(`mend.${mend.words}`, { to: '', name: '', ...mend.data });
  return (
    <Button
      className="mt-1 flex-none"
      data-mend={mend.words}
      onClick={() => {
        goTo(problem);
        useDesigner.getState().edit(words, mend.edit);
      }}
    >
      {words}
    </Button>
  );
};
