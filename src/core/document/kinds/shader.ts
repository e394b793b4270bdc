import { documentKind, type DocumentOf } from '../documentKind.ts';
import { list, mapOf, optional, text, told } from '../fields.ts';
import { freeTakenNames } from '../migrateNames.ts';
import { parameter } from '../parameter.ts';
import { checkScore, MOST_PARAMETERS, strands } from '../score.ts';
import { checkGuarantees, guarantees } from '../guarantees.ts';
import { silenced } from '../silenced.ts';
import { surface } from '../surface.ts';

export const SHADER_VERSION = 2;

/**
 * A shader. What is checked: shape, sizes, names, ids, ranges. What steps and expressions mean is the compiler's to say,
 * since a document with a broken step is still a document.
 */
export const shader = documentKind({
  name: 'shader',
  version: SHADER_VERSION,
  fields: {
    parameters: list(parameter, MOST_PARAMETERS),
    strands,
    surface,
    renamed: optional(
      told(mapOf(text(2000)), 'Uniforms of the source it was imported from that go by other names here.'),
    ),
    guarantees: optional(guarantees),
    silenced: optional(silenced),
  },
  migrate: freeTakenNames,
  check: (r, document) => {
    checkScore(r, document);
    checkGuarantees(r, document.guarantees ?? []);
  },
});
export type ShaderDocument = DocumentOf<typeof shader>;

export const emptyShader = (): ShaderDocument => ({
  format: 'wicked-veil/shader',
  version: SHADER_VERSION,
  parameters: [],
  strands: [],
  surface: { lit: true, alphaMode: 'opaque', sides: 'front', depthWrite: true, outputs: {} },
});
