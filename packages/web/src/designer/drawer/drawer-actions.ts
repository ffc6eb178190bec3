import {
  copyDrawer,
  type Drawer,
  drawerBefore,
  drawersOf,
  type Edit,
  findDrawer,
  isBesidePrevious,
  type Model,
  moveInRows,
  nestingOf,
  type PlanContext,
  putBeside,
  type Report,
} from '@gaveta/core/internal';

interface DrawerAction {
  key: 'up' | 'down' | 'beside' | 'below' | 'duplicate' | 'remove' | 'into';
  /** The drawer that it would go into, next to or below. */
  target?: Drawer;
  edit: () => Edit;
}

/** A way to move, copy or take out a drawer, each an edit; those that cannot be done are not there. */
export const drawerActions = (
  report: Report,
  drawer: Drawer,
  model: Model | null,
  plan: PlanContext,
): DrawerAction[] => {
  const parent = findDrawer(report, drawer.id)?.parent ?? null;
  const actions: DrawerAction[] = [];
  const siblings = parent ? parent.drawers! : report.body;
  const at = siblings.findIndex((d) => d.id === drawer.id);
  const move = (to: number) => (): Edit =>
    moveInRows(report, {
      do: 'moveDrawer',
      drawer: drawer.id,
      parent: parent?.id ?? null,
      at: to,
      relation: 'relation' in drawer.rows ? drawer.rows.relation : null,
    });
  if (at > 0) actions.push({ key: 'up', edit: move(at - 1) });
  if (at < siblings.length - 1) actions.push({ key: 'down', edit: move(at + 1) });
  const target = drawerBefore(report, drawer.id);
  const isBeside = isBesidePrevious(report, drawer);
  const aside = putBeside(report, drawer.id, !isBeside);
  if (target && aside) actions.push({ key: isBeside ? 'below' : 'beside', target, edit: () => aside });
  actions.push({
    key: 'duplicate',
    edit: () => ({
      do: 'addDrawer',
      parent: parent?.id ?? null,
      at: at + 1,
      drawer: copyDrawer(report, drawer, plan),
    }),
  });
  if (parent) {
    for (const { drawer: target } of drawersOf(report)) {
      if (target.id === parent.id) continue;
      const found = nestingOf(report, model, drawer.id, target.id);
      if (!found.ok) continue;
      const relation = found.relations[0]!.name;
      const at = target.drawers?.length ?? 0;
      const edit = (): Edit =>
        moveInRows(report, { do: 'moveDrawer', drawer: drawer.id, parent: target.id, at, relation });
      actions.push({ key: 'into', target, edit });
    }
  }
  actions.push({ key: 'remove', edit: () => ({ do: 'removeDrawer', drawer: drawer.id }) });
  return actions;
};
