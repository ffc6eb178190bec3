import {
  columnResizingFeature,
  columnSizingFeature,
  type RowData,
  tableFeatures,
  useTable,
} from '@tanstack/react-table';
import { type ReactNode, useMemo } from 'react';
import { useTranslation } from '../i18n/use-translation.ts';

const features = tableFeatures({ columnSizingFeature, columnResizingFeature });

export interface DataColumn<Row> {
  id: string;
  /** What the column is called, and what else stands in its head. */
  head: ReactNode;
  /** What is told of the column below its head. */
  facts?: ReactNode;
  title?: string | undefined;
  /** Numbers stand at the right. */
  isRight: boolean;
  cell: (row: Row) => ReactNode;
  /** A look of its own, and why, for a cell that is unlike the others. */
  unlike?: (row: Row) => { look: string; title: string } | null;
}

interface DataTableProps<Row> {
  label?: string | undefined;
  columns: readonly DataColumn<Row>[];
  rows: readonly Row[];
  /** Added to what a head, and what a cell, looks like. */
  headLook: string;
  cellLook: string;
}

/** Narrowest column, in CSS pixels. */
const NARROWEST = 48;

/** Rows under heads that stay in sight while they are scrolled; a column is made wider or narrower by its edge. */
export const DataTable = <Row extends RowData>({ label, columns, rows, headLook, cellLook }: DataTableProps<Row>) => {
  const { t } = useTranslation();
  const byId = useMemo(() => new Map(columns.map((column) => [column.id, column])), [columns]);
  const table = useTable({
    features,
    data: rows,
    columns: useMemo(() => columns.map(({ id }) => ({ id, minSize: NARROWEST })), [columns]),
    columnResizeMode: 'onChange',
  });
  const sizing = table.state.columnSizing;
  /** A column takes the width its values need, until somebody gives it another. */
  const width = (id: string) => {
    const given = sizing[id];
    return given === undefined ? undefined : { width: given, minWidth: given, maxWidth: given };
  };
  /** Where the dragging of its edge begins. */
  const takeWidth = (id: string, grip: HTMLElement): void => {
    const shown = grip.parentElement!.getBoundingClientRect().width;
    table.setColumnSizing((sizes) => ({ ...sizes, [id]: Math.round(shown) }));
  };
  const side = (id: string): string => (byId.get(id)?.isRight ? 'text-end' : '');
  const hasFacts = columns.some((column) => column.facts);
  return (
    <table aria-label={label} className="border-collapse text-start">
      <thead className="sticky top-0 z-1 bg-sheet">
        {table.getHeaderGroups().map((group) => (
          <tr key={group.id}>
            {group.headers.map((header) => (
              <th
                key={header.id}
                scope="col"
                title={byId.get(header.id)?.title}
                style={width(header.id)}
                className={`relative ${side(header.id)} ${headLook}`}
              >
                {byId.get(header.id)?.head}
                {/* For the mouse alone: everything can be read without it. */}
                <span
                  aria-hidden
                  title={t('app.columnWidth')}
                  className="absolute top-0 right-0 h-full w-1.5 cursor-col-resize touch-none hover:bg-brass-soft"
                  onDoubleClick={() => header.column.resetSize()}
                  onMouseDown={(event) => {
                    event.preventDefault();
                    takeWidth(header.id, event.currentTarget);
                    header.getResizeHandler()(event.nativeEvent);
                  }}
                  onTouchStart={(event) => {
                    takeWidth(header.id, event.currentTarget);
                    header.getResizeHandler()(event.nativeEvent);
                  }}
                />
              </th>
            ))}
          </tr>
        ))}
        {hasFacts && (
          <tr className="text-[11.5px] text-ink-3">
            {columns.map(({ id, facts }) => (
              <td
                key={id}
                className={`border-b border-rule-soft px-2 py-1 align-top whitespace-nowrap ${side(id)}`}
                style={width(id)}
              >
                {facts}
              </td>
            ))}
          </tr>
        )}
      </thead>
      <tbody>
        {table.getRowModel().rows.map((row) => (
          <tr key={row.id} className="hover:bg-desk/30">
            {row.getAllCells().map((cell) => {
              const { id } = cell.column;
              const unlike = byId.get(id)?.unlike?.(row.original);
              return (
                <td
                  key={cell.id}
                  style={width(id)}
                  title={unlike?.title}
                  className={`truncate border-b border-rule-soft px-2 ${side(id)} ${cellLook} ${unlike?.look ?? ''}`}
                >
                  {byId.get(id)?.cell(row.original)}
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
};
