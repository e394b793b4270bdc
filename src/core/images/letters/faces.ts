import type { Face } from './face.ts';
import { readFace } from './face.ts';
import kept from './faces.json' with { type: 'json' };

const known = new Map<string, Face>();
/** A face of letters by its name. @throws Error where there is none */
export const faceNamed = (name: string): Face => {
  const found = known.get(name) ?? (name in kept ? readFace(kept[name as keyof typeof kept]) : null);
  if (!found) throw new Error(`There is no face “${name}”.`);
  known.set(name, found);
  return found;
};
