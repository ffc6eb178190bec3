import type { CheckedType } from '@gaveta/core/internal';
import type { NamesIn } from '../../i18n/keys.ts';

/** Formats that are offered, by what they are for. Spreadsheet number-format codes. */
export const FORMATS: readonly { kind: 'number' | 'date'; name: NamesIn<'formats'>; code: string }[] = [
  { kind: 'number', name: 'plain', code: 'General' },
  { kind: 'number', name: 'whole', code: '#,##0' },
  { kind: 'number', name: 'two', code: '#,##0.00' },
  { kind: 'number', name: 'euro', code: '€ #,##0.00' },
  { kind: 'number', name: 'percent', code: '0.0%' },
  { kind: 'number', name: 'signed', code: '+#,##0.00;-#,##0.00;0.00' },
  { kind: 'number', name: 'dashZero', code: '#,##0.00;-#,##0.00;"–"' },
  { kind: 'number', name: 'thousands', code: '#,##0.0,"k"' },
  { kind: 'date', name: 'date', code: 'd mmm yyyy' },
  { kind: 'date', name: 'dateShort', code: 'dd/mm/yyyy' },
  { kind: 'date', name: 'dateIso', code: 'yyyy-mm-dd' },
  { kind: 'date', name: 'weekday', code: 'ddd d mmm' },
  { kind: 'date', name: 'month', code: 'mmmm yyyy' },
  { kind: 'date', name: 'year', code: 'yyyy' },
  { kind: 'date', name: 'time', code: 'd mmm yyyy hh:mm' },
  { kind: 'date', name: 'clock', code: 'hh:mm' },
];

/** Which formats suit values of a type; null when none do. */
export const formatKind = (type: CheckedType | null): 'number' | 'date' | null =>
  type === 'number' ? 'number' : type === 'date' || type === 'datetime' ? 'date' : null;
