import { type Report, reportSchema, type TextPiece, type Translation } from '../definition/schema.ts';
import type { Model } from '../model/model.ts';
import { bestLanguage } from './choose.ts';
import { formulaSaying } from './in-formulas.ts';
import { lineOfPieces, piecesOfLine } from './pieces.ts';
import { respoken } from './walk.ts';

/** What a text is called in another language; null where nobody has said it. */
export type Dictionary = (text: string) => string | null;

export const translationOf = (report: Pick<Report, 'translations'>, language: string): Translation | null =>
  report.translations?.find((one) => one.language === language) ?? null;

/** Looks texts up in a report’s own translation, then among those of its data model. */
export const dictionaryOf = (
  report: Pick<Report, 'translations' | 'model'>,
  language: string,
  models: readonly Model[],
): Dictionary => {
  const own = translationOf(report, language)?.texts ?? {};
  const model = models.find(({ name }) => name === report.model);
  const labels = (model && labelsOf(model, language)) ?? {};
  return (text) => valueAt(own, text) || valueAt(labels, text) || null;
};

const valueAt = (texts: Readonly<Record<string, string>>, text: string): string | null =>
  Object.hasOwn(texts, text) ? texts[text]! : null;

/** A report as it is in one of its languages: the same parts in the same order, saying other texts. Itself in its own. */
export const inLanguage = (report: Report, language: string, models: readonly Model[]): Report => {
  if (language === report.language || !translationOf(report, language)) return report;
  const say = dictionaryOf(report, language, models);
  const sayAsIs = (text: string): string => say(text) ?? text;
  const translated = respoken(reportSchema, report, (value, as) => {
    if (value === undefined) return value;
    switch (as) {
      case 'text':
      case 'follows':
        return sayAsIs(value as string);
      case 'formula':
        return formulaSaying(value as string, sayAsIs);
      case 'pieces': {
        const content = value as TextPiece[];
        const line = say(lineOfPieces(content));
        const pieces = line === null ? content : piecesOfLine(line, content);
        return pieces.map((piece) =>
          typeof piece !== 'string' && 'formula' in piece
            ? { ...piece, formula: formulaSaying(piece.formula, sayAsIs) }
            : piece,
        );
      }
      default:
        return as satisfies never;
    }
  }) as Report;
  return { ...translated, language };
};

const labelsOf = ({ texts = {} }: Model, language: string): Readonly<Record<string, string>> | null => {
  const best = bestLanguage([language], Object.keys(texts));
  return best === null ? null : texts[best]!;
};

/** Labels of a model in another language; itself where it has none in it. */
export const modelInLanguage = (model: Model, language: string): Model => {
  const texts = labelsOf(model, language);
  if (!texts) return model;
  const say = <T extends string | undefined>(text: T): T => (text && (valueAt(texts, text) as T)) || text;
  const named = <T extends { label: string }>(one: T): T => ({ ...one, label: say(one.label) });
  return {
    ...named(model),
    entities: model.entities.map((entity) => ({
      ...named(entity),
      plural: say(entity.plural),
      relations: entity.relations.map(named),
      fields: entity.fields.map((field) => ({
        ...named(field),
        ...(field.unit ? { unit: say(field.unit) } : {}),
        ...(field.choices ? { choices: field.choices.map(named) } : {}),
      })),
    })),
  };
};
