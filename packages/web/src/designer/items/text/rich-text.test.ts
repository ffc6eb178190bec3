// @vitest-environment happy-dom
import * as fc from 'fast-check';
import { DOMParser as Reader } from 'prosemirror-model';
import { AllSelection, EditorState, TextSelection } from 'prosemirror-state';
import { describe, expect, it } from 'vitest';
import { sliceOfText, withLines } from './pasting.ts';
import { type Content, contentOf, docOf, textSchema } from './rich-text.ts';
import { dressSelection, toggleFlag } from './word-looks.ts';

/** What markup on the clipboard becomes. */
const pasted = (html: string): Content => {
  const root = document.createElement('div');
  root.innerHTML = withLines(html);
  return contentOf(Reader.fromSchema(textSchema).parse(root));
};

describe('text that is edited', () => {
  it('is the same again when it is read back', () => {
    const words = fc.string({ minLength: 1, maxLength: 12, unit: fc.constantFrom('a', ' ', 'é', '\n', '日', '"') });
    const look = fc.record(
      { bold: fc.boolean(), size: fc.integer({ min: 6, max: 40 }), color: fc.constantFrom('#1f5c4d', '#b3402e') },
      { requiredKeys: ['size'] },
    );
    const piece = fc.oneof(
      fc.record({ text: words, look }),
      fc.record({ formula: fc.constantFrom('name', 'SUM(amount)', '"a" & b'), format: fc.constant('0.0') }),
      fc.record({ formula: fc.constant('beds'), look }),
    );
    // Words without a look stand between others, as two in a row would be one.
    const content = fc.array(fc.tuple(words, piece), { maxLength: 6 }).map((pairs): Content => pairs.flat());
    fc.assert(
      fc.property(content, (given) => {
        expect(contentOf(docOf(given))).toEqual(given);
      }),
      { numRuns: 200, seed: 11 },
    );
  });

  it('keeps what a look has that no tool here sets', () => {
    const given: Content = [{ text: 'note', look: { background: '#f3e6c8', padding: { left: 1 }, turn: 90 } }];
    expect(contentOf(docOf(given))).toEqual(given);
  });

  it('leaves out a formula that was never written', () => {
    expect(contentOf(docOf(['a', { formula: '' }, 'b']))).toEqual(['ab']);
  });
});

describe('what is pasted', () => {
  it('keeps ways of writing and lines, and nothing else of other applications', () => {
    expect(pasted('Beds <b>of <i>all</i></b> <span style="color: red; font-size: 40px">huts</span>')).toEqual([
      'Beds ',
      { text: 'of ', look: { bold: true } },
      { text: 'all', look: { bold: true, italic: true } },
      ' huts',
    ]);
    expect(pasted('<div><p>one</p><p>two</p></div><ul><li>three</li></ul>')).toEqual(['one\ntwo\nthree']);
    expect(pasted('<strike>gone</strike><span style="font-weight: 700">pine</span>')).toEqual([
      { text: 'gone', look: { strike: true } },
      { text: 'pine', look: { bold: true } },
    ]);
    expect(pasted('<script>alert(1)</script><a href="javascript:x">link</a><img src=x onerror=y>')).toEqual(['link']);
  });

  it('keeps looks and formulas of another text, and refuses what no definition may hold', () => {
    const chip = '<span data-formula="beds" data-format="0">beds</span>';
    expect(pasted(`<span data-look='{"size":20}'>${chip} beds</span>`)).toEqual([
      { formula: 'beds', format: '0', look: { size: 20 } },
      { text: ' beds', look: { size: 20 } },
    ]);
    expect(pasted(`<span data-look='{"size":"x","color":"red;}"}'>a</span><span data-look="{">b</span>`)).toEqual([
      'ab',
    ]);
  });

  it('takes plain text as it is', () => {
    const { content } = sliceOfText('one\r\n  <b>two</b>');
    expect(contentOf(textSchema.nodes.doc.create(null, content))).toEqual(['one\n  <b>two</b>']);
  });
});

describe('ways of writing', () => {
  const opened = (content: Content): EditorState => {
    const doc = docOf(content);
    return EditorState.create({ doc, selection: new AllSelection(doc) });
  };
  const from = (state: EditorState, start: number, end = start): EditorState =>
    state.apply(state.tr.setSelection(TextSelection.create(state.doc, start, end)));

  it('are given to words and formulas, and taken again', () => {
    const content: Content = ['Beds: ', { formula: 'beds' }];
    const start = opened(content);
    const bold = start.apply(toggleFlag(start, 'bold', {}));
    const all = { look: { bold: true } };
    expect(contentOf(bold.doc)).toEqual([
      { text: 'Beds: ', ...all },
      { formula: 'beds', ...all },
    ]);
    expect(contentOf(bold.apply(toggleFlag(bold, 'bold', {})).doc)).toEqual(content);
  });

  it('are taken from words of a text that has them as a whole', () => {
    const start = from(opened(['all of it']), 0, 3);
    const light = start.apply(toggleFlag(start, 'bold', { bold: true }));
    expect(contentOf(light.doc)).toEqual([{ text: 'all', look: { bold: false } }, ' of it']);
    expect(contentOf(light.apply(toggleFlag(light, 'bold', { bold: true })).doc)).toEqual(['all of it']);
  });

  it('hold for what is typed next where nothing is selected', () => {
    const start = from(opened(['a']), 1);
    const bold = start.apply(toggleFlag(start, 'italic', {}));
    expect(
      contentOf(bold.apply(bold.tr.replaceSelectionWith(textSchema.text('b', bold.storedMarks!), false)).doc),
    ).toEqual(['a', { text: 'b', look: { italic: true } }]);
  });

  it('give way to what is chosen later', () => {
    const start = opened([{ text: 'big', look: { size: 20, color: '#1f5c4d' } }]);
    const small = start.apply(dressSelection(start, { size: 8 }));
    expect(contentOf(small.doc)).toEqual([{ text: 'big', look: { size: 8, color: '#1f5c4d' } }]);
  });
});
