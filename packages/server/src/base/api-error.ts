import { fillDetail, type Problem, type ProblemData } from '@gaveta/core/internal';
/** Every error that the API answers with: its status and words. docs/errors.md lists them; a test holds the two together. */
export const API_ERRORS = {
  'no-token': {
    status: 401,
    title: 'No token',
    detail:
      'This call needs a token. The host’s server signs one with signToken; send it as “Authorization: Bearer …”.',
  },
  'token-expired': {
    status: 401,
    title: 'Token expired',
    detail:
      'The token has run out. Ask the host’s server for a new one; where it is new, the clocks of the two servers differ.',
  },
  'token-invalid': {
    status: 401,
    title: 'Token not accepted',
    detail:
      'The token was signed with another secret than this server has, or was changed on the way. Give signToken and createGaveta the same “secret”.',
  },
  'token-content': {
    status: 401,
    title: 'Token not understood',
    detail: 'The token is not made as signToken makes it: {detail}',
  },
  'token-early': {
    status: 401,
    title: 'Token not good yet',
    detail:
      'The token is good from a later moment on. The clocks of the two servers differ: set both by the same time.',
  },
  'not-allowed': {
    status: 403,
    title: 'Not allowed',
    detail: 'This needs the right “{right}”, which the token does not carry.',
  },
  'not-allowed-here': {
    status: 403,
    title: 'Not allowed with this report',
    detail: 'You have no leave to {action} this.',
  },
  refused: { status: 403, title: 'Refused by the application', detail: '{detail}' },
  'foreign-origin': {
    status: 403,
    title: 'From another origin',
    detail: 'A page of another origin may only change something with a token.',
  },
  'wrong-data': {
    status: 400,
    title: 'Rows that cannot be taken',
    detail: 'Rows were given with the call, and {detail}',
  },
  'not-allowed-in-folder': {
    status: 403,
    title: 'Not allowed in this folder',
    detail: 'You may see this folder, and not do that with what is in it. Choose another one.',
  },
  'folder-name-taken': {
    status: 409,
    title: 'Name taken',
    detail: 'There is a folder “{name}” there already. Choose another name.',
  },
  'folders-too-deep': {
    status: 409,
    title: 'Folders too deep',
    detail: 'There may be {most} folders inside each other. Choose one further out.',
  },
  'folder-in-itself': {
    status: 409,
    title: 'A folder inside itself',
    detail: '“{name}” cannot be moved into a folder that is in it.',
  },
  'folder-stays': {
    status: 409,
    title: 'This folder stays',
    detail: 'The library itself, and the own folder of a person, can be neither renamed nor moved nor deleted.',
  },
  'host-decides': {
    status: 409,
    title: 'The application decides',
    detail: 'Here the application itself decides who may do what, so that nothing can be granted.',
  },
  'publish-not-asked': {
    status: 409,
    title: 'Nobody asked for it',
    detail: 'Here two people publish: one asks for revision {revision}, and another one publishes it.',
  },
  'publish-own': {
    status: 409,
    title: 'Somebody else publishes it',
    detail: 'You asked for this revision to be published, so that somebody else has to do it.',
  },
  'not-by-link': {
    status: 403,
    title: 'Not by a link',
    detail: 'Whoever reads by a link may read that one report, and nothing else.',
  },
  'link-ended': {
    status: 401,
    title: 'This link has ended',
    detail: 'The link has ended, or was revoked. Ask whoever sent it for another one.',
  },
  'links-off': {
    status: 403,
    title: 'No links',
    detail: 'This application makes no links for people without an account.',
  },
  'link-too-long': {
    status: 400,
    title: 'Too long',
    detail: 'A link lasts {days} days at most here.',
  },
  'too-many-links': {
    status: 409,
    title: 'Too many links',
    detail: 'A report has at most {limit} links that lead somewhere. Revoke one.',
  },
  'unknown-link': { status: 404, title: 'No such link', detail: 'There is no such link, or it was revoked already.' },
  'unknown-delivery': { status: 404, title: 'No such delivery', detail: 'There is no delivery “{id}”.' },
  'unknown-delivery-run': {
    status: 404,
    title: 'No such run of a delivery',
    detail: 'There is no run “{id}” of a delivery.',
  },
  'wrong-delivery': { status: 422, title: 'The delivery cannot go like this', detail: '{detail}' },
  'too-many-deliveries': {
    status: 409,
    title: 'Too many deliveries',
    detail: 'One person has at most {limit} deliveries. Remove one first.',
  },
  'nothing-failed': {
    status: 409,
    title: 'Nothing failed',
    detail: 'Nothing of this run failed, so there is nothing to try again.',
  },
  'unknown-kept': { status: 404, title: 'No such kept result', detail: 'There is no kept result “{id}”.' },
  'no-stand-in': {
    status: 404,
    title: 'No stand-in',
    detail: 'The application registered no “{name}” with createGaveta({ deliveries: { standIns } }).',
  },
  'unknown-mail': { status: 404, title: 'No such mail', detail: 'There is no mail “{id}” in the outbox.' },
  'unknown-delivered-file': {
    status: 404,
    title: 'No such file',
    detail: 'The file is not kept any more, or never was.',
  },
  'unknown-folder': { status: 404, title: 'No such folder', detail: 'There is no folder “{id}”.' },
  'unknown-report': { status: 404, title: 'No such report', detail: 'There is no report “{id}”.' },
  'unknown-sketch': { status: 404, title: 'No such sketch', detail: 'There is no sketch “{id}”.' },
  'wrong-sketch': {
    status: 422,
    title: 'Sketch not understood',
    detail: 'The sketch “{id}” was stored in a form that this version cannot read.',
  },
  'not-in-sketch': {
    status: 403,
    title: 'Not in the sketch',
    detail: 'The sketch does not show “{field}”. Readers sort and filter by what it shows.',
  },
  'contains-itself': {
    status: 422,
    title: 'The report would contain itself',
    detail: 'Nested in one another: {path}. Remove the subreport, or nest another report.',
  },
  'unknown-revision': { status: 404, title: 'No such revision', detail: 'The report “{id}” has no revision {number}.' },
  'unknown-run': {
    status: 404,
    title: 'No such run',
    detail: 'The run “{id}” is not here any more. Run the report again.',
  },
  'unknown-picture': {
    status: 404,
    title: 'No such picture',
    detail: 'No run that you have shows the picture “{hash}”.',
  },
  'not-joined': {
    status: 400,
    title: 'Not made of pages',
    detail: 'Reports are joined in outputs of pages, as “pdf”, and “{name}” is none.',
  },
  'unknown-name-part': {
    status: 400,
    title: 'A part of the file’s name is not known',
    detail: 'The name of a file cannot have “{name}” in braces. It can have: {names}.',
  },
  'unknown-output': {
    status: 404,
    title: 'No such output',
    detail: 'There is no output “{name}”. There is: {names}.',
  },
  'unknown-address': { status: 404, title: 'No such address', detail: '{method} {path} is not part of the API.' },
  'wrong-address': {
    status: 400,
    title: 'The address is wrong',
    detail: 'The address holds something that cannot be read. Write names in it as encodeURIComponent does.',
  },
  'wrong-media-type': {
    status: 415,
    title: 'The body cannot be read',
    detail: 'Send it as application/json in UTF-8, plain or packed with gzip, deflate or brotli.',
  },
  'wrong-body': { status: 400, title: 'The request is wrong', detail: '{detail}' },
  'wrong-definition': { status: 422, title: 'The definition is wrong', detail: 'It was not accepted. See “problems”.' },
  'wrong-parameters': { status: 422, title: 'Parameters are missing or wrong', detail: '{detail}' },
  conflict: {
    status: 409,
    title: 'Somebody else saved first',
    detail:
      '{author} saved revision {revision} of this report meanwhile. Nothing of yours was lost: save as a copy, or on top of theirs.',
  },
  'unknown-recipe': { status: 404, title: 'No such recipe', detail: 'There is no recipe “{id}”.' },
  'recipe-in-use': {
    status: 409,
    title: 'The recipe is in use',
    detail: 'Nothing was removed: {reports} take rows from it. Change them first.',
  },
  'recipe-in-circle': {
    status: 409,
    title: 'The recipe would take rows from itself',
    detail:
      'Nothing was saved: “{name}” would take rows from itself, through {path}. Take them from something else in one of these.',
  },
  'unknown-connection': { status: 404, title: 'No such connection', detail: 'There is no connection “{name}”.' },
  'connection-fixed': {
    status: 409,
    title: 'The name is taken',
    detail: '“{name}” is a connection or data model of the application’s own code. Choose another name.',
  },
  'connection-name-taken': {
    status: 409,
    title: 'The name is taken',
    detail: 'The name “{name}” is taken. Choose another one.',
  },
  'connection-not-copied': {
    status: 409,
    title: 'Connections are not copied',
    detail: 'What is secret of a connection goes into no other one. Make a new connection.',
  },
  'id-taken': {
    status: 409,
    title: 'The id is taken',
    detail: '“{id}” is the id of something else. Choose another one.',
  },
  'theme-name-taken': {
    status: 409,
    title: 'The name is taken',
    detail: '“{name}” is a theme of the application or of Gaveta. Choose another name.',
  },
  'not-a-template': {
    status: 409,
    title: 'No report',
    detail: 'Only reports can be templates.',
  },
  'folder-in-use': {
    status: 409,
    title: 'The folder holds what is in use',
    detail: 'Rows are taken from {names}, which would be deleted with the folder. Move them to another folder first.',
  },
  'names-not-there': {
    status: 403,
    title: 'Something is not there',
    detail:
      'Rows would be taken from {names}, which is not there for you. Take them from something else, or ask for it.',
  },
  'connection-not-usable': { status: 422, title: 'The connection does not work', detail: '{detail}' },
  'no-key': {
    status: 409,
    title: 'Secrets cannot be stored',
    detail: 'Give createGaveta an encryptionKey, so that passwords can be stored; until then no secret is accepted.',
  },
  'needs-sign-in': {
    status: 422,
    title: 'A connection needs you to sign in',
    detail: 'Give user and password for: {names}.',
  },
  'unknown-upload': {
    status: 404,
    title: 'No such upload',
    detail: 'The uploaded file is not here any more. Upload it again.',
  },
  'rows-gone': {
    status: 409,
    title: 'Rows not kept',
    detail: 'The rows of this run were not kept, so that it cannot be laid out again. Run the report again.',
  },
  'too-many-runs': {
    status: 429,
    title: 'Too many runs',
    detail: '{limit} of your runs wait already. Wait for one of them, or cancel it.',
  },
  'run-incomplete': {
    status: 422,
    title: 'The report is incomplete',
    detail:
      'Something in it could not be shown; see “problems”. Correct it, or ask for the file with “problems=allow” to get it as it is.',
  },
  'run-failed': { status: 500, title: 'The run failed', detail: '{detail}' },
  'unknown-value': {
    status: 404,
    title: 'No such value',
    detail: 'No page of the run has the value that was asked about. Run the report again.',
  },
  'too-many-value-sets': {
    status: 409,
    title: 'Too many saved values',
    detail: 'At most {limit} sets of values can be saved for one report. Remove one first.',
  },
  'not-arranged': {
    status: 403,
    title: 'Not arranged',
    detail: 'Readers of this report may not arrange its rows that way. Ask the person who made it.',
  },
  'origins-hidden': {
    status: 403,
    title: 'Not shown',
    detail: 'This report does not say where its values come from. Ask the person who made it.',
  },
  'run-cancelled': { status: 409, title: 'The run was cancelled', detail: 'Run the report again.' },
  'file-refused': { status: 422, title: 'The file cannot be made', detail: '{detail}' },
  'report-too-heavy': {
    status: 422,
    title: 'The report is too heavy',
    detail: '{detail} Take fewer rows, totals or nested reports.',
  },
  'too-large': { status: 413, title: 'Too large', detail: 'The request is larger than {limit}.' },
  unexpected: {
    status: 500,
    title: 'Something went wrong in Gaveta',
    detail: 'The server’s log says what, under the reference {reference}.',
  },
} as const;

export type ApiErrorCode = keyof typeof API_ERRORS;

/** Thrown by a route; answered as a problem document (RFC 9457). */
/** Problems that are most told of in an error’s message; all are in `extra`. */
const MOST_TOLD = 5;

/** The problems of a definition that came with an error, for whoever reads its message. */
const problemLines = (problems: unknown): string =>
  Array.isArray(problems)
    ? (problems as { place?: Problem['place']; text?: string }[])
        .slice(0, MOST_TOLD)
        .map(({ place, text }) => `\n  ${place?.path ? `${place.path}: ` : ''}${text ?? ''}`)
        .join('')
    : '';

export class ApiError extends Error {
  constructor(
    readonly code: ApiErrorCode,
    readonly data: ProblemData = {},
    readonly extra: Record<string, unknown> = {},
  ) {
    super(`${code}: ${fillDetail(API_ERRORS[code].detail, data)}${problemLines(extra.problems)}`);
  }
}

/** What an error says, with its values filled in. */
export const wordsOf = ({ code, data }: ApiError): string => fillDetail(API_ERRORS[code].detail, data);

export const problemDocument = (error: ApiError): Record<string, unknown> => {
  const { status, title } = API_ERRORS[error.code];
  return {
    type: `urn:gaveta:problem:${error.code}`,
    title,
    status,
    detail: wordsOf(error),
    code: error.code,
    data: error.data,
    ...error.extra,
  };
};
