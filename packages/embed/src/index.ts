export type {
  FrameEvents,
  HostValue,
  HostValues,
  LookToken,
  Part,
  ToFrame,
  ToHost,
} from '@gaveta/core/embedding';
export { defineElements, type GavetaElements } from './define.ts';
export { type GavetaAction, GavetaElement } from './element.ts';
export { type GavetaEvents, GavetaFailure, type GavetaTarget } from './events.ts';
export { GavetaExportButton } from './export-button.ts';
export { setHome } from './home.ts';
export type { OpenedAs } from './open-as.ts';
export { type ExportOptions, GavetaDesigner, GavetaLibrary, GavetaViewer } from './viewer.ts';
