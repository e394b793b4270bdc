import type { Field } from './fields.ts';

const SHA_256 = '^[0-9a-f]{64}$';

/** A picture by its SHA-256; in a folder also by the name of a file beside the document, with one of these endings. */
const pictureOf = (endings: string): Field<string> => ({
  schema: { type: 'string', pattern: SHA_256 },
  read: (r, value, path, { files }) => {
    const name = r.text(value, path, 64);
    if (!(files && new RegExp(`^[\\w-]+\\.(${endings})$`).test(name)) && !new RegExp(SHA_256).test(name))
      r.problem(
        path,
        `A picture is named by the 64 hex digits of its SHA-256${files ? ', or by a file beside this document, such as order.png' : ''}.`,
      );
    return name;
  },
});

/** What heights, references and choices are. */
export const picture = pictureOf('png|jpe?g|webp');
/** What a texture parameter reads; floats of OpenEXR and Radiance too. */
export const sampledPicture = pictureOf('png|jpe?g|webp|exr|hdr');
/** What is around a set; also in Radiance’s format, whose light goes beyond white. */
export const surroundings = pictureOf('png|jpe?g|webp|hdr');
