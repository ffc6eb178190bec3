import { describe, expect, it } from 'vitest';
import { phrase } from './phrases.ts';
import { asSentence, fillDetail, SaidError } from './said-error.ts';

describe('an error for people', () => {
  it('has its phrase, and its words in English', () => {
    const error = new SaidError(phrase('file-many-rows', { name: 'stays', most: 5 }));
    expect(error.message).toBe('“stays” has more than 5 rows.');
    expect(error.said).toEqual({ phrase: 'file-many-rows', data: { name: 'stays', most: 5 } });
    expect(new SaidError('as another program said it').message).toBe('as another program said it');
  });

  it('becomes a sentence where it stands alone', () => {
    expect(asSentence('the database was closed')).toBe('The database was closed.');
    expect(asSentence('Is another character between the cells?')).toBe('Is another character between the cells?');
    expect(asSentence('')).toBe('');
  });

  it('fills what the API says, as a sentence only where the words are Gaveta’s own', () => {
    const detail = phrase('statement-slow', { seconds: 8 });
    expect(fillDetail('{detail}', { detail })).toBe('The statement was ended after 8 seconds.');
    expect(fillDetail('It failed: {detail}.', { detail })).toBe('It failed: the statement was ended after 8 seconds.');
    expect(fillDetail('{detail}', { detail: 'steps.0.count: too small' })).toBe('steps.0.count: too small');
    const words = { 'statement-slow': 'parou ao fim de {seconds} segundos' };
    expect(fillDetail('{detail}', { detail }, words)).toBe('Parou ao fim de 8 segundos.');
  });
});
