import { arriveFace, FACES, faceHere } from './arrived.ts';
import { readFace, type Face } from './face.ts';
import kept from './faces.json' with { type: 'json' };

/** A face of letters by its name. @throws Error where there is none */
export const faceNamed = (name: string): Face => {
  const known = faceHere(name);
  if (known) return known;
  if (!FACES.some((each) => each === name)) throw new Error(`There is no face “${name}”.`);
  const face = readFace(kept[name as (typeof FACES)[number]]);
  arriveFace(name, face);
  return face;
};
