import { CONTRACT } from '@gaveta/core/contract';
import { expect, it } from 'vitest';
import { API_ERRORS } from '../base/api-error.ts';
import { apiPage } from './api-page.ts';
import { openApi } from './open-api.ts';

it('shows every call with its body and answer, every error, and leads to every part of a schema', () => {
  const page = apiPage(openApi());
  for (const [name, { does }] of Object.entries(CONTRACT)) {
    const [method, path] = name.split(' ') as [string, string];
    expect(page).toContain(`<b>${method}</b> <code>${path.replace(/:(\w+)/g, '{$1}')}</code>`);
    expect(page).toContain(does.replace(/"/g, '&#34;'));
  }
  for (const code of Object.keys(API_ERRORS)) expect(page).toContain(`<td><code>${code}</code></td>`);
  for (const [, name] of page.matchAll(/href="#(schema-\w+)"/g)) expect(page).toContain(`id="${name}"`);
  expect(page).not.toContain('<script');
});
