import '@xyflow/react/dist/style.css';
import type { Entity } from '@gaveta/core/internal';
import {
  Background,
  Controls,
  type Edge,
  Handle,
  MarkerType,
  type Node,
  type NodeProps,
  Position,
  ReactFlow,
} from '@xyflow/react';
import { useMemo } from 'react';
import { useNavigate, useOutletContext } from 'react-router';
import type { ModelWithOrigin } from '../api/client.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Notice } from '../ui/controls.tsx';
import type { DataParts } from './data-screen.tsx';
import { layered } from './map-layout.ts';

type TableNode = Node<{ label: string; fields: number; find: boolean }, 'table'>;

const Table = ({ data }: NodeProps<TableNode>) => {
  const { t } = useTranslation();
  return (
    <div
      className={`w-[150px] rounded-md border bg-paper px-2.5 py-1.5 ${data.find ? 'border-pine ring-2 ring-pine-soft' : 'border-rule'}`}
    >
      <Handle type="target" position={Position.Left} className="!size-1 !border-0 !bg-brass" />
      <b className="block truncate">{data.label}</b>
      <span className="text-[11.5px] text-ink-3">{t('data.fieldCount', { count: data.fields })}</span>
      <Handle type="source" position={Position.Right} className="!size-1 !border-0 !bg-brass" />
    </div>
  );
};

const NODE_TYPES = { table: Table };

const line = (model: string, from: string, to: string, label: string): Edge => ({
  id: `${model}/${from} ${to} ${label}`,
  source: `${model}/${from}`,
  target: `${model}/${to}`,
  markerEnd: { type: MarkerType.ArrowClosed, color: '#b98524' },
  style: { stroke: '#b98524' },
  ariaLabel: label,
});

/** From each table to those that have many rows for one of its own, whichever of the two knows it. */
const edgesOf = (model: ModelWithOrigin): Edge[] => {
  const many = model.entities.flatMap((e) =>
    e.relations.filter((r) => r.kind === 'many').map((r) => line(model.name, e.name, r.to, `${e.label}: ${r.label}`)),
  );
  const known = new Set(many.map((edge) => `${edge.source} ${edge.target}`));
  const back = model.entities.flatMap((e) =>
    e.relations.filter((r) => r.kind === 'one').map((r) => line(model.name, r.to, e.name, `${e.label}: ${r.label}`)),
  );
  return [...many, ...back.filter((edge) => !known.has(`${edge.source} ${edge.target}`))];
};

/** All tables with their relations: from one row to its many, as drawers nest. */
export const ModelMap = () => {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const { models, find } = useOutletContext<DataParts>();
  const { nodes, edges } = useMemo(() => {
    const wanted = find.trim().toLowerCase();
    const lines = models.flatMap(edgesOf);
    const places = layered(
      models.map((model) =>
        model.entities.map((entity) => {
          const id = `${model.name}/${entity.name}`;
          return { id, to: lines.filter((edge) => edge.source === id).map((edge) => edge.target) };
        }),
      ),
    );
    const all = models.flatMap((model) => model.entities.map((entity) => ({ model, entity })));
    const made = all.map(
      ({ model, entity }): TableNode => ({
        id: `${model.name}/${entity.name}`,
        type: 'table',
        position: places.get(`${model.name}/${entity.name}`) ?? { x: 0, y: 0 },
        data: {
          label: entity.plural,
          fields: shownCount(entity),
          find: wanted !== '' && entity.plural.toLowerCase().includes(wanted),
        },
      }),
    );
    return { nodes: made, edges: lines };
  }, [models, find]);
  if (models.length === 0) return <Notice title={t('data.noModels')}>{t('data.noModelsHelp')}</Notice>;
  return (
    <section aria-label={t('data.map')} className="min-h-0 flex-1">
      <ReactFlow
        nodes={nodes}
        edges={edges}
        nodeTypes={NODE_TYPES}
        fitView
        minZoom={0.2}
        nodesConnectable={false}
        proOptions={{ hideAttribution: true }}
        onNodeClick={(_, node) => navigate(`/data/tables/${node.id}`)}
      >
        <Background color="#d9d1bd" gap={24} />
        <Controls showInteractive={false} />
      </ReactFlow>
    </section>
  );
};

const shownCount = (entity: Entity): number => entity.fields.filter((f) => !f.hidden).length;
