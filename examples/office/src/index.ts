export { createOffice, type OfficeOptions, PEOPLE } from './office.ts';
