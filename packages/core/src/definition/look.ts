import { color, dash, formula, size } from './basics.ts';
import { z } from './zod.ts';

const edge = z.strictObject({ width: size, color: color.optional(), dash: dash.optional() });
export type Edge = z.infer<typeof edge>;

export const SIDES = ['top', 'right', 'bottom', 'left'] as const;
export type Side = (typeof SIDES)[number];

export const lookSchema = z.strictObject({
  font: z.string().max(80).optional(),
  /** Points. */
  size: z.number().min(1).max(500).optional(),
  bold: z.boolean().optional(),
  italic: z.boolean().optional(),
  underline: z.boolean().optional(),
  strike: z.boolean().optional(),
  color: color.optional(),
  background: color.optional(),
  align: z.enum(['left', 'center', 'right', 'justify']).optional(),
  stands: z.enum(['top', 'middle', 'bottom']).optional(),
  /** Between the edge of the box and its text: on every side, or by side. */
  padding: z
    .union([
      size,
      z.strictObject({
        top: size.optional(),
        right: size.optional(),
        bottom: size.optional(),
        left: size.optional(),
      }),
    ])
    .optional(),
  border: z
    .strictObject({
      top: edge.optional(),
      right: edge.optional(),
      bottom: edge.optional(),
      left: edge.optional(),
    })
    .optional(),
  /** Of the corners of background and border. */
  radius: size.optional(),
  /** 0 is invisible, 1 is solid. */
  opacity: z.number().min(0).max(1).optional(),
  /** Degrees, clockwise. */
  turn: z.number().min(-360).max(360).optional(),
  /** Distance of lines as a multiple of the type size; 1.25 when left out. */
  spacing: z.number().min(0.8).max(4).optional(),
});

export type Look = z.infer<typeof lookSchema>;

/** A named look; what it does not say comes from the style it is based on. */
export const styleSchema = lookSchema.extend({ basedOn: z.string().max(80).optional() });
export type Style = z.infer<typeof styleSchema>;

/** Changes the look, or hides, where a condition holds. Of several that hold, later ones win. */
export const highlightSchema = z.strictObject({
  when: formula,
  look: lookSchema.optional(),
  hide: z.boolean().optional(),
});
export type Highlight = z.infer<typeof highlightSchema>;

/** The looks of a style and of those it is based on, nearest last. Stops where a style is missing or comes again. */
export const styleLook = (styles: Readonly<Record<string, Style>>, name: string | undefined): Look => {
  const chain: Style[] = [];
  const seen = new Set<string>();
  for (let at = name; at !== undefined && !seen.has(at); ) {
    seen.add(at);
    const style: Style | undefined = styles[at];
    if (!style) break;
    chain.unshift(style);
    at = style.basedOn;
  }
  const { basedOn: _, ...look } = Object.assign({}, ...chain) as Style;
  return look;
};
