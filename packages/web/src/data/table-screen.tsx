import { findEntity } from '@gaveta/core/internal';
import { Link, useNavigate, useOutletContext, useParams } from 'react-router';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button, Notice } from '../ui/controls.tsx';
import type { DataParts } from './data-screen.tsx';
import { RowsView } from './rows-view.tsx';
import { sourceId } from './sources.ts';

/** A look at a table: its rows, what its columns hold, and where its relations lead. */
export const TableScreen = () => {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const { model: modelName = '', entity: entityName = '' } = useParams();
  const { models } = useOutletContext<DataParts>();
  const model = models.find((m) => m.name === modelName);
  const entity = model && findEntity(model, entityName);
  if (!model || !entity)
    return <Notice title={t('data.noTable')}>{t('data.noTableHelp', { name: entityName })}</Notice>;
  const needs = entity.arguments ?? [];
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="flex min-h-11 flex-none flex-wrap items-center gap-2 border-b border-rule px-3 py-1.5">
        <b>{entity.plural}</b>
        <span className="text-ink-3">
          {entity.description ?? t(`data.origin_${model.origin.kind}`, { name: model.origin.connection })}
        </span>
        <span className="flex-1" />
        {needs.length === 0 && (
          <Button
            onClick={() => {
              const from = sourceId({ model: model.name, entity: entity.name });
              navigate(`/sketches/new?from=${encodeURIComponent(from)}`);
            }}
          >
            {t('library.newSketch')}
          </Button>
        )}
        <Button look="primary" onClick={() => navigate(`/data/recipes/new?from=${model.name}/${entity.name}`)}>
          {t('data.startRecipe')}
        </Button>
      </div>
      {entity.relations.length > 0 && (
        <p className="flex flex-wrap gap-1.5 border-b border-rule-soft px-3 py-1.5 text-ink-2">
          {t('data.relations')}
          {entity.relations.map((r) => (
            <Link
              key={r.name}
              className="rounded bg-brass-soft px-1.5 hover:text-pine"
              to={`/data/tables/${r.model ?? model.name}/${r.to}`}
            >
              {r.kind === 'one' ? t('data.itsOne', { name: r.label }) : t('data.itsMany', { name: r.label })}
            </Link>
          ))}
        </p>
      )}
      {needs.length > 0 ? (
        <Notice>{t('data.needsArguments', { names: needs.map((a) => a.label).join(', ') })}</Notice>
      ) : (
        <div className="grid min-h-0 flex-1">
          <RowsView
            looked={{ steps: [{ step: 'take', from: { model: model.name, entity: entity.name } }], parameters: [] }}
            title={entity.plural}
            isReady
          />
        </div>
      )}
    </div>
  );
};
