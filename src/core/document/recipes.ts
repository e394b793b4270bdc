import { namedBy } from '../images/declareStep.ts';
import { wordsIn, type Reading, type Recipe } from '../images/recipe.ts';
import { broughtFor } from '../meshes/makeMesh.ts';
import { createDigest } from '../numbers/digest.ts';
import { motifsIn } from './motif.ts';
import type { Parameter } from './shader.ts';
import type { Part, PartOf } from './project.ts';

/** A part without the revision that a server counts. */
type Known = Pick<Part, 'id' | 'kind' | 'name' | 'body'>;
type Parts = ReadonlyMap<string, Known>;

/** What of a part tells what it shows: not what is promised, answered or kept of it beside. */
const telling = (part: Part, parameters: readonly Parameter[]): unknown => {
  // By name and as they are ordered: what was baked before values were stored by id has the same digest.
  const names = new Map(parameters.map(({ id, name }) => [id, name]));
  const named = (kept: Readonly<Record<string, unknown>> | undefined) =>
    kept && Object.fromEntries(Object.entries(kept).map(([id, each]) => [names.get(id) ?? id, each]));
  switch (part.kind) {
    case 'shader':
      return [part.body.parameters, part.body.strands, part.body.surface];
    case 'motif':
      return [part.body.parameters, part.body.strands, part.body.outputs];
    case 'material':
      return [
        part.body.shader,
        named(part.body.values),
        named(part.body.pictures),
        named(part.body.sampling),
      ];
    case 'shared':
      return part.body.values;
    default:
      return part.body;
  }
};
const NONE: readonly Parameter[] = [];
const digests = new WeakMap<object, { readonly parameters: readonly Parameter[]; readonly text: string }>();
/** What tells apart what a part shows; computed once, since documents are never written to. */
const digestOf = (part: Known, parameters = NONE): string => {
  const found = digests.get(part.body);
  if (found?.parameters === parameters) return found.text;
  const digest = createDigest();
  digest.word(JSON.stringify(telling(part as Part, parameters)));
  digests.set(part.body, { parameters, text: digest.text() });
  return digest.text();
};

/** A shader or material and all that tells what it shows. */
export const shownBy = (parts: Parts, id: string): readonly Known[] => {
  const found = new Map<string, Known>();
  const visit = (each: string): void => {
    const part = parts.get(each) as Part | undefined;
    if (!part || found.has(each)) return;
    found.set(each, part);
    if (part.kind === 'material') visit(part.body.shader);
    if (part.kind === 'shader' || part.kind === 'motif') motifsIn(part.body.strands).forEach(visit);
  };
  visit(id);
  for (const part of parts.values()) if (part.kind === 'shared' && found.size) found.set(part.id, part);
  return [...found.values()];
};

const surfaceReading = (parts: Parts, word: string): Reading => {
  const { id } = namedBy(word);
  const known = shownBy(parts, id);
  const material = parts.get(id) as Part | undefined;
  const shader =
    material?.kind === 'material' ? (parts.get(material.body.shader) as Part | undefined) : undefined;
  const parameters = shader?.kind === 'shader' ? shader.body.parameters : NONE;
  const [pictures, made] =
    material?.kind === 'material' ? [material.body.pictures ?? {}, material.body.made ?? {}] : [{}, {}];
  return {
    is: known.map((each) => `${each.id} ${digestOf(each, each === material ? parameters : NONE)}`).join(' '),
    textures: Object.values(made),
    brings: Object.values(pictures).map((blob) => ({ what: 'picture', blob })),
  };
};

/** A prop that a word names by its set’s id and its own. */
export const propNamed = (parts: Parts, word: string) => {
  const { id: set, inner } = namedBy(word);
  const stage = parts.get(set) as PartOf<'stage'> | undefined;
  return stage?.kind === 'stage' ? stage.body.props.find((each) => each.id === inner) : undefined;
};

const propReading = (parts: Parts, word: string): Reading => {
  const prop = propNamed(parts, word);
  const brought = prop && broughtFor(prop.mesh);
  return {
    ...{ is: prop ? JSON.stringify(prop.mesh) : '', textures: [] },
    brings: brought ? [{ what: brought.what, blob: brought.blob }] : [],
  };
};

/** How each texture of a project is made, with what its steps name besides textures as that is now. */
export const recipesOf = (all: Iterable<Known>): ReadonlyMap<string, Recipe> => {
  const parts: Parts = new Map([...all].map((each) => [each.id, each]));
  const textures = [...parts.values()].flatMap((each) =>
    (each as Part).kind === 'texture' ? [each as PartOf<'texture'>] : [],
  );
  return new Map(
    textures.map(({ id, name, body: { size, repeats, filter, holds, bits = 8, steps } }) => {
      const words = (kind: 'surface' | 'prop') => steps.flatMap((step) => wordsIn(step, kind));
      const reads = new Map([
        ...words('surface').map((word) => [word, surfaceReading(parts, word)] as const),
        ...words('prop').map((word) => [word, propReading(parts, word)] as const),
      ]);
      // Floats of colour are multiplied by alpha since version 2: what was baked before is baked again.
      const version = bits === 32 && holds === 'color' ? ' 2' : '';
      const kept = holds === 'color' && bits === 8 ? {} : { kept: `${holds} ${bits}${version}` };
      return [
        id,
        { ...kept, name, size, filter, repeats: [repeats[0] ?? true, repeats[1] ?? true], steps, reads },
      ];
    }),
  );
};
