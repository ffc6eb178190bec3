// @vitest-environment happy-dom
// @vitest-environment-options { "settings": { "navigation": { "disableChildFrameNavigation": true } } }
import { act } from 'react';
import { createRoot } from 'react-dom/client';
import { expect, it, vi } from 'vitest';
import { Designer, Viewer } from './react.tsx';

vi.stubGlobal('IS_REACT_ACT_ENVIRONMENT', true);

it('the React components pass on what they are given, and call what is given last', async () => {
  const place = document.createElement('div');
  document.body.append(place);
  const root = createRoot(place);
  const [before, after] = [vi.fn(), vi.fn()];
  const shown = { report: 'x', fetchToken: async () => 'first', parameters: { season: 2025 }, language: 'pt-PT' };
  await act(async () => root.render(<Viewer {...shown} className="wide" onSaved={before} />));
  const element = place.querySelector('gaveta-viewer') as HTMLElement & { fetchToken: () => Promise<string> };
  const { report, parameters, language } = Object.fromEntries([...element.attributes].map((a) => [a.name, a.value]));
  expect({ report, parameters, language }).toEqual({ report: 'x', parameters: '{"season":2025}', language: 'pt-PT' });
  expect(element.className).toBe('wide');
  expect(element.querySelector('iframe')!.src).toContain('embed/reports/x');
  await act(async () => root.render(<Viewer {...shown} fetchToken={async () => 'second'} onSaved={after} />));
  element.dispatchEvent(new CustomEvent('saved', { detail: { report: 'x', revision: 2 } }));
  expect(before).not.toHaveBeenCalled();
  expect(after).toHaveBeenCalledWith({ report: 'x', revision: 2 });
  expect(await element.fetchToken()).toBe('second');
  await act(async () => root.unmount());
  element.dispatchEvent(new CustomEvent('saved', { detail: {} }));
  expect(after).toHaveBeenCalledTimes(1);
});

it('the designer is the same with another element', async () => {
  const place = document.createElement('div');
  document.body.append(place);
  await act(async () => createRoot(place).render(<Designer report="x" fetchToken={async () => ''} />));
  expect(place.querySelector('gaveta-designer iframe')).not.toBeNull();
});
