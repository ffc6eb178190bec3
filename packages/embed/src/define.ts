import { GavetaExportButton } from './export-button.ts';
import { GavetaDesigner, GavetaLibrary, GavetaViewer } from './viewer.ts';

/** The elements by their names. */
export interface GavetaElements {
  'gaveta-viewer': GavetaViewer;
  'gaveta-designer': GavetaDesigner;
  'gaveta-library': GavetaLibrary;
  'gaveta-export-button': GavetaExportButton;
}

declare global {
  interface HTMLElementTagNameMap extends GavetaElements {}
}

/** Registers the elements; doing it twice is harmless. */
export const defineElements = (): void => {
  const all = {
    'gaveta-viewer': GavetaViewer,
    'gaveta-designer': GavetaDesigner,
    'gaveta-library': GavetaLibrary,
    'gaveta-export-button': GavetaExportButton,
  } satisfies Record<keyof GavetaElements, CustomElementConstructor>;
  for (const [name, element] of Object.entries(all))
    if (!customElements.get(name)) customElements.define(name, element);
};
