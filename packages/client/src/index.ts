export type { AnswerOf, BodySent, CallName } from '@gaveta/core/contract';
export {
  type ClientOptions,
  type FileOptions,
  fileNameOf,
  GavetaClient,
  type Given,
  type ReportFile,
} from './client.ts';
export { ApiFailure } from './failure.ts';
