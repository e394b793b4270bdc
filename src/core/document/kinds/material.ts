import { documentKind, type DocumentOf } from '../documentKind.ts';
import { id, list, mapOf, object, optional, standing, text, told, type Field, type Read } from '../fields.ts';
import { values } from '../values.ts';

const PICTURE_FILE = /^[\w-]+\.(png|jpe?g|webp)$/;
const SHA_256 = '^[0-9a-f]{64}$';

/** A picture by its SHA-256; in a folder also by the name of a file beside the material. */
const picture: Field<string> = {
  schema: { type: 'string', pattern: SHA_256 },
  read: (r, value, path, { files }) => {
    const name = r.text(value, path, 64);
    if (!(files && PICTURE_FILE.test(name)) && !new RegExp(SHA_256).test(name))
      r.problem(
        path,
        `A picture is named by the 64 hex digits of its SHA-256${files ? ', or by a file beside the material, such as order.png' : ''}.`,
      );
    return name;
  },
};

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
    pictures: optional(mapOf(picture)),
    presets: optional(list(preset, 64)),
  },
});
/** A look: one shader and the values its parameters stand at. Names without a value stand at the default. */
export type MaterialDocument = DocumentOf<typeof material>;
