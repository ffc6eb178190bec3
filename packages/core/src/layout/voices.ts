import type { EvaluationContext } from '../formula/functions/context.ts';
import { bestLanguage } from '../translation/choose.ts';
import { FormulaError, valueText } from '../value/value.ts';
import type { FlowingItem, PreparedBand, PreparedDrawer, PreparedPages, PreparedReport, Voice } from './prepared.ts';
import type { RunShared } from './run-shared.ts';

/** The bands of a prepared report in another language, by those that they stand for; of nested reports as well. */
export const pairVoices = (base: PreparedReport, voice: PreparedReport, language: string): void => {
  const bands = new Map<PreparedBand, PreparedBand>();
  const pair = (one: PreparedBand | null | undefined, other: PreparedBand | null | undefined): void => {
    if (one && other)
      bands.set(one, { ...other, flowing: other.flowing.map((item, i) => sharing(item, one.flowing[i])) });
  };
  const sharing = (item: FlowingItem, of: FlowingItem | undefined): FlowingItem => {
    // The rows of a nested report are one stream, whatever language each of its instances is in.
    if (!of?.nested || !item.nested) return item;
    pairVoices(of.nested, item.nested, language);
    return { ...of, box: item.box };
  };
  const pages = (one: PreparedPages, other: PreparedPages): void => {
    for (const name of Object.keys(one.bands) as (keyof PreparedPages['bands'])[])
      pair(one.bands[name], other.bands[name]);
  };
  const drawer = (one: PreparedDrawer, other: PreparedDrawer): void => {
    for (const name of Object.keys(one.bands) as (keyof PreparedDrawer['bands'])[])
      pair(one.bands[name], other.bands[name]);
    if (one.pages && other.pages) pages(one.pages, other.pages);
    for (const [i, { header, footer }] of one.groups.entries()) {
      pair(header, other.groups[i]!.header);
      pair(footer, other.groups[i]!.footer);
    }
    for (const [i, inner] of one.drawers.entries()) drawer(inner, other.drawers[i]!);
  };
  pair(base.bands.header, voice.bands.header);
  pair(base.bands.footer, voice.bands.footer);
  pages(base.pages, voice.pages);
  for (const [i, root] of base.roots.entries()) drawer(root, voice.roots[i]!);
  base.voices.set(language, { language: voice.report.language, name: voice.report.name, bands });
};

/** The language of the rows that are current, where rows decide on it: bands are laid out in it. */
export class Speaker {
  private readonly offered: string[];

  constructor(
    private readonly prepared: PreparedReport,
    private readonly context: EvaluationContext,
    private readonly shared: Pick<RunShared, 'speaking'>,
  ) {
    this.offered = [prepared.report.language, ...prepared.voices.keys()];
  }

  /** The language of a band; null for that of the run. */
  private languageOf({ languages }: PreparedBand): string | null {
    for (const evaluate of languages) {
      const value = evaluate(this.context);
      if (value === null || value instanceof FormulaError) continue;
      const best = bestLanguage([valueText(value)], this.offered);
      if (best !== null) return best;
    }
    return this.shared.speaking;
  }

  /** A band in the language of its rows, and what it is in. */
  private voiceOf(band: PreparedBand): { voice: Voice | null; band: PreparedBand; language: string | null } {
    if (this.prepared.voices.size === 0) return { voice: null, band, language: null };
    const language = this.languageOf(band);
    const voice = (language !== null && this.prepared.voices.get(language)) || null;
    return { voice, band: voice?.bands.get(band) ?? band, language };
  }

  /** The band in the language of its rows. */
  spoken(band: PreparedBand): PreparedBand {
    return this.voiceOf(band).band;
  }

  /** Works with a band in the language of its rows; what it shows by itself meanwhile is in it too. */
  speaking<T>(given: PreparedBand, work: (band: PreparedBand) => T): T {
    const { voice, band } = this.voiceOf(given);
    if (!voice) return work(band);
    const { context } = this;
    const { report } = context;
    context.report = { ...report, language: voice.language, name: voice.name };
    try {
      return work(band);
    } finally {
      context.report = report;
    }
  }

  /** As {@link speaking}, for work that takes a while, also of reports that are nested in the band. */
  async speakingFor(given: PreparedBand, work: (band: PreparedBand) => Promise<void>): Promise<void> {
    const { voice, band, language } = this.voiceOf(given);
    const { context, shared } = this;
    const { report } = context;
    const before = shared.speaking;
    shared.speaking = language ?? before;
    if (voice) context.report = { ...report, language: voice.language, name: voice.name };
    try {
      await work(band);
    } finally {
      context.report = report;
      shared.speaking = before;
    }
  }
}
