import { documentKind, type DocumentOf } from '../documentKind.ts';
import { flag, id, list, mapOf, object, optional, standing, text, told, type Read } from '../fields.ts';
import { sampledPicture } from '../picture.ts';
import { sampling } from '../sampling.ts';
import { values } from '../values.ts';

const kept = told(values, 'By the ids of the shader’s parameters.');
const preset = object({ name: text(64), values: standing(kept, {}) });
/** Values kept under a name, to be taken up again at one press. */
export type Preset = Read<typeof preset>;

export const material = documentKind({
  name: 'material',
  version: 2,
  fields: {
    shader: told(id, 'The shader’s part id.'),
    values: standing(kept, {}),
    pictures: optional(
      told(mapOf(sampledPicture), 'The picture each texture parameter reads, by the parameter’s id.'),
    ),
    made: optional(
      told(
        mapOf(id),
        'By the parameter’s id, the texture part it reads; `pictures` has the picture that was baked from it.',
      ),
    ),
    sampling: optional(
      told(
        mapOf(sampling),
        'How a texture is sampled where it is not repeated and filtered linearly, by the parameter’s id.',
      ),
    ),
    presets: optional(list(preset, 64)),
    named: optional(
      told(
        flag,
        'The keys above are parameter names, as in version 1. They become ids when the shader is read.',
      ),
    ),
  },
  migrate: (document) => {
    const { values, pictures, made, sampling, presets = [] } = document;
    const all: readonly (object | undefined)[] = [
      values,
      pictures,
      made,
      sampling,
      ...presets.map((each) => each.values),
    ];
    return all.some((kept) => kept && Object.keys(kept).length) ? { ...document, named: true } : document;
  },
});
/** A look: one shader and the values of its parameters, by parameter id. Parameters without a value have their default. */
export type MaterialDocument = DocumentOf<typeof material>;
