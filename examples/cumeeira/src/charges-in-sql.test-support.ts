/** A formula and the SQL that means the same. */
export interface Both {
  formula: string;
  sql: string;
}

/** Every charge with what is around it, as plain SQL sees it. */
export const CHARGES = `charge c join stay s on s.id = c.stay_id join hut h on h.id = s.hut_id join region r on r.id = h.region_id`;

/** Totals of charges; in SQL the member of the stay is `m`. */
export const CHARGE_TOTALS: readonly Both[] = [
  { formula: 'SUM(amount)', sql: 'trim_scale(coalesce(sum(c.amount), 0))' },
  { formula: 'SUM(amount * quantity)', sql: 'trim_scale(sum(coalesce(c.amount, 0) * coalesce(c.quantity, 0)))' },
  { formula: `COUNT('charge')`, sql: 'count(*)' },
  { formula: 'COUNT(unit_price)', sql: 'count(c.unit_price)' },
  { formula: 'COUNTDISTINCT(stay.member.name)', sql: 'count(distinct m.name)' },
  { formula: 'ROUND(AVERAGE(amount); 8)', sql: 'coalesce(trim_scale(round(avg(c.amount), 8)), 0)' },
  {
    formula: 'MEDIAN(quantity)',
    sql: 'trim_scale(percentile_cont(0.5) within group (order by c.quantity::float8)::numeric)',
  },
  { formula: 'ROUND(STDEV(amount); 6)', sql: 'coalesce(trim_scale(round(stddev_samp(c.amount), 6)), 0)' },
  { formula: 'ROUND(VARP(amount); 6)', sql: 'coalesce(trim_scale(round(var_pop(c.amount), 6)), 0)' },
  { formula: 'MIN(stay.id)', sql: 'min(s.id)' },
  { formula: 'MAX(amount)', sql: 'trim_scale(max(c.amount))' },
];
