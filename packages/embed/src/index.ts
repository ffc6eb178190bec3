export type { ToFrame, ToHost } from '@gaveta/core/embedding';
export { defineElements, GavetaDesigner, type GavetaEvents, GavetaViewer } from './element.ts';
