// @vitest-environment happy-dom
import type { ItemOf } from '@gaveta/core/internal';
import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readContent, writeContent } from './rich-text.ts';

type Content = ItemOf<'text'>['content'];

const editor = (content: Content): HTMLElement => {
  const root = document.createElement('div');
  root.append(...writeContent(content, () => ''));
  return root;
};
const again = (content: Content): Content => readContent(editor(content));
const read = (html: string): Content => {
  const root = document.createElement('div');
  root.innerHTML = html;
  return readContent(root);
};

describe('text that is edited', () => {
  it('is the same again when it is read back', () => {
    const words = fc.string({ minLength: 1, maxLength: 12 }).map((s) => s.replace(/[\u00a0\u200b\n\r]/g, ' '));
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
        expect(again(given)).toEqual(given);
      }),
      { numRuns: 200, seed: 11 },
    );
  });

  it('takes what browsers make of ways of writing and lines', () => {
    expect(read('Beds <b>of <i>all</i></b> huts')).toEqual([
      'Beds ',
      { text: 'of ', look: { bold: true } },
      { text: 'all', look: { bold: true, italic: true } },
      ' huts',
    ]);
    expect(read('one<div>two</div><div><br></div>')).toEqual(['one\ntwo\n']);
    expect(read('<font color="#B3402E">red</font><strike>gone</strike>')).toEqual([
      { text: 'red', look: { color: '#b3402e' } },
      { text: 'gone', look: { strike: true } },
    ]);
    expect(read('<span style="font-weight: 700; color: rgb(31, 92, 77)">pine</span>')).toEqual([
      { text: 'pine', look: { bold: true, color: '#1f5c4d' } },
    ]);
  });

  it('gives a field the way of writing around it, and leaves out one without a formula', () => {
    expect(read('<b><span data-formula="beds" data-format="0">beds</span></b>')).toEqual([
      { formula: 'beds', format: '0', look: { bold: true } },
    ]);
    expect(read('a<span data-formula="">?</span>b')).toEqual(['ab']);
  });

  it('takes nothing over from markup that it does not know', () => {
    expect(read('<script>alert(1)</script><a href="javascript:x">link</a><img src=x onerror=y>')).toEqual([
      'alert(1)link',
    ]);
  });
});
