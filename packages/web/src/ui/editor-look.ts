import { EditorView } from '@codemirror/view';

/** How boxes for formulas and statements look, by day and by night. */
export const editorLook = EditorView.theme({
  '&': { fontSize: '12px', backgroundColor: 'var(--color-paper)', color: 'var(--color-ink)' },
  '.cm-content': { fontFamily: 'var(--font-mono)', caretColor: 'var(--color-ink)' },
  '.cm-cursor': { borderLeftColor: 'var(--color-ink)' },
  '.cm-tooltip': {
    backgroundColor: 'var(--color-paper)',
    color: 'var(--color-ink)',
    border: '1px solid var(--color-rule)',
    borderRadius: '6px',
    overflow: 'hidden',
  },
  '.cm-tooltip-autocomplete > ul > li[aria-selected]': {
    backgroundColor: 'var(--color-pine-soft)',
    color: 'var(--color-ink)',
  },
  '.cm-completionMatchedText': { textDecoration: 'none', fontWeight: '600' },
  '.cm-completionIcon': { display: 'none' },
  '.cm-completionDetail': { fontStyle: 'normal', color: 'var(--color-ink-3)', marginLeft: '8px' },
  '.cm-completionInfo': { maxWidth: '280px', padding: '6px 8px', fontFamily: 'var(--font-ui)' },
  '&.cm-focused': { outline: '2px solid var(--color-pine)' },
  '.cm-activeLineGutter': { backgroundColor: 'transparent' },
  '.cm-gutters': { backgroundColor: 'var(--color-sheet)', color: 'var(--color-ink-3)', border: 'none' },
  '.cm-placeholder': { color: 'var(--color-ink-3)' },
});
