import type en from './en.json';

type Messages = typeof en;

/** Names in a part of the messages: those that begin with `start`, without it. */
export type NamesIn<Part extends keyof Messages, Start extends string = ''> = keyof {
  [K in keyof Messages[Part] as K extends `${Start}${infer Name}` ? Name : never]: true;
};

/** Names in a part of the messages that have a sentence of help beside them: `text` and `textHelp`. */
export type NamesWithHelp<Part extends keyof Messages> = {
  [K in keyof Messages[Part] & string]: `${K}Help` extends keyof Messages[Part] ? K : never;
}[keyof Messages[Part] & string];
