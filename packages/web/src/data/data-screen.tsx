import { useQuery } from '@tanstack/react-query';
import { Plus } from 'lucide-react';
import { useState } from 'react';
import { Link, NavLink, Outlet } from 'react-router';
import type { ModelWithOrigin, StoredRecipe } from '../api/client.ts';
import { queries } from '../api/queries.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Questions } from '../ui/confirm.tsx';
import { DrawerMark, inputLook, Notice } from '../ui/controls.tsx';
import { Failure } from '../ui/failure.tsx';
import { ScreenHeader } from '../ui/screen-header.tsx';
import { isChanged, useDrafts } from './recipe-draft.ts';

/** What the parts of the Data screen share. */
export interface DataParts {
  models: readonly ModelWithOrigin[];
  recipes: readonly StoredRecipe[];
  find: string;
  canSql: boolean;
  canConnect: boolean;
}

const entryLook = ({ isActive }: { isActive: boolean }): string =>
  `block truncate rounded px-2 py-1 ${isActive ? 'bg-pine-soft' : 'hover:bg-desk/60'}`;

/** Tables and their relations, recipes and connections: everything that reports take rows from. */
export const DataScreen = () => {
  const { t } = useTranslation();
  const [find, setFind] = useState('');
  const models = useQuery(queries.models());
  const recipes = useQuery(queries.recipes());
  const session = useQuery(queries.session());
  const connections = useQuery(queries.connections());
  const drafts = useDrafts((s) => s.drafts);
  const error = models.error ?? recipes.error;
  if (error) return <Failure error={error} retry={() => void models.refetch()} />;
  if (!models.data || !recipes.data || !session.data) return <Notice>{t('app.loading')}</Notice>;
  const { rights } = session.data;
  const wanted = find.trim().toLowerCase();
  const found = (label: string): boolean => label.toLowerCase().includes(wanted);
  const parts: DataParts = {
    models: models.data,
    recipes: recipes.data,
    find,
    canSql: rights.includes('sql'),
    canConnect: rights.includes('data'),
  };
  return (
    <div className="flex h-full flex-col">
      <ScreenHeader title={t('data.title')}>
        <span className="flex-1" />
        <NavLink to="/data/relate" className="text-ink-2 hover:text-pine">
          {t('data.relate')}
        </NavLink>
        <NavLink to="/data" end className="text-ink-2 hover:text-pine">
          {t('data.showMap')}
        </NavLink>
      </ScreenHeader>
      <div className="grid min-h-0 flex-1 grid-cols-[220px_minmax(0,1fr)]">
        <nav aria-label={t('data.title')} className="overflow-auto border-e border-rule p-3">
          <input
            type="search"
            className={`${inputLook} mb-3`}
            placeholder={t('data.find')}
            aria-label={t('data.find')}
            value={find}
            onChange={(event) => setFind(event.target.value)}
          />
          <Heading label={t('data.recipes')} add={t('data.newRecipe')} to="/data/recipes/new" />
          <ul className="mb-3">
            {recipes.data
              .filter((r) => found(r.name))
              .map((recipe) => (
                <li key={recipe.id}>
                  <NavLink to={`/data/recipes/${recipe.id}`} className={entryLook}>
                    {recipe.name}
                    {drafts[recipe.id] && isChanged(drafts[recipe.id]!) && (
                      <span title={t('designer.unsaved')}> •</span>
                    )}
                  </NavLink>
                </li>
              ))}
            {recipes.data.length === 0 && <li className="px-2 text-ink-3">{t('data.noRecipes')}</li>}
          </ul>
          {models.data.map((model) => {
            const shown = model.entities.filter((e) => found(e.plural));
            if (shown.length === 0) return null;
            return (
              <section key={model.name} className="mb-3">
                <Heading label={model.label} />
                <ul>
                  {shown.map((entity) => (
                    <li key={entity.name}>
                      <NavLink
                        to={`/data/tables/${model.name}/${entity.name}`}
                        className={entryLook}
                        title={entity.description}
                      >
                        {entity.plural}
                      </NavLink>
                    </li>
                  ))}
                </ul>
              </section>
            );
          })}
          <Heading
            label={t('data.connections')}
            {...(parts.canConnect ? { add: t('data.newConnection'), to: '/data/connections/new' } : {})}
          />
          <ul>
            {(connections.data?.made ?? []).map((c) => (
              <li key={c.name}>
                <NavLink to={`/data/connections/${c.name}`} className={entryLook}>
                  {c.label}
                </NavLink>
              </li>
            ))}
            {(connections.data?.fixed ?? []).map((c) => (
              <li key={c.name} className="px-2 py-1 text-ink-3" title={t('data.fixedConnection')}>
                {c.name}
              </li>
            ))}
          </ul>
        </nav>
        <main className="flex min-h-0 min-w-0 flex-col">
          <Outlet context={parts} />
        </main>
      </div>
      <Questions />
    </div>
  );
};

const Heading = ({ label, add, to }: { label: string; add?: string; to?: string }) => (
  <h2 className="mb-1 flex items-center gap-1 font-semibold">
    {label}
    {to && add ? (
      <Link to={to} aria-label={add} title={add} className="ms-auto rounded p-0.5 text-pine hover:bg-pine-soft">
        <Plus size={15} />
      </Link>
    ) : (
      <DrawerMark />
    )}
  </h2>
);
