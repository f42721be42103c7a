import { z } from 'zod';

const viewingFields = {
  display: z.string(),
  view: z.string(),
  exposure: z.number().min(-20).max(20),
  /** The display codes that become 0 and 1, before the gamma. */
  black: z.number().min(-1).max(1),
  white: z.number().min(0).max(3),
  /** Display codes to the power of 1 / gamma. */
  gamma: z.number().min(0.1).max(10),
  /** Looks of the config in place of the view's own ("+a, -b"); "" for none, null for the view's own. */
  look: z.string().max(500).nullable(),
  /** A LUT or CDL of the Library, on numbers of the space that it expects. */
  lookFile: z.object({ id: z.string(), space: z.string(), name: z.string() }).nullable(),
};
/** What only the eye gets. Never written unless an output says so. */
export const viewingSchema = z.object({
  ...viewingFields,
  black: viewingFields.black.default(0),
  white: viewingFields.white.default(1),
  gamma: viewingFields.gamma.default(1),
  look: viewingFields.look.default(null),
  lookFile: viewingFields.lookFile.default(null),
});
export type Viewing = z.infer<typeof viewingSchema>;
/** A change of some of its fields; the others stay as they are. */
export const viewingChangeSchema = z
  .object({
    display: viewingFields.display,
    view: viewingFields.view,
    exposure: viewingFields.exposure,
    black: viewingFields.black,
    white: viewingFields.white,
    gamma: viewingFields.gamma,
    look: viewingFields.look,
    lookFile: viewingFields.lookFile,
  })
  .partial();
export type ViewingChange = z.infer<typeof viewingChangeSchema>;
