import { documentKind, type DocumentOf } from '../documentKind.ts';
import { id, list, mapOf, object, optional, standing, text, told, type Read } from '../fields.ts';
import { sampledPicture } from '../picture.ts';
import { sampling } from '../sampling.ts';
import { values } from '../values.ts';

const preset = object({ name: text(64), values: standing(values, {}) });
/** Values kept under a name, to be taken up again at one press. */
export type Preset = Read<typeof preset>;

export const material = documentKind({
  name: 'material',
  version: 1,
  fields: {
    shader: told(id, 'The shader’s part id.'),
    values: standing(values, {}),
    /** The picture each texture parameter reads. */
    pictures: optional(mapOf(sampledPicture)),
    /** Of textures that are made here: the texture part’s id. What it was baked to stands in `pictures`. */
    made: optional(mapOf(id)),
    sampling: optional(
      told(
        mapOf(sampling),
        'How textures are read that do not come round both ways between their texels: by the name of each.',
      ),
    ),
    presets: optional(list(preset, 64)),
  },
});
/** A look: one shader and the values its parameters stand at. Names without a value stand at the default. */
export type MaterialDocument = DocumentOf<typeof material>;
