import { basename, dirname, join } from 'node:path';
import { findAll } from '#core/analyse/findAll.ts';
import { givenBy, lookInto, wornPlainly } from '#core/analyse/lookInto.ts';
import type { Finding as Found, Scene, Subject } from '#core/analyse/scene.ts';
import { standingIn, uvSquare } from '#core/analyse/standing.ts';
import type { Worn } from '#core/analyse/worn.ts';
import { FIRST_BUDGETS, type Budget } from '#core/document/budgets.ts';
import { newPart, type PartOf } from '#core/document/project.ts';
import { broughtFor } from '#core/meshes/makeMesh.ts';
import { usesIn } from '#script/usesIn.ts';
import { documentBeside, filesAt } from './documents.ts';
import {
  libraryBeside,
  materialsBeside,
  readText,
  sharedBeside,
  sharedDocumentsBeside,
  texturesBeside,
  type ReadDocument,
} from './readDocument.ts';
import { readPictures } from './readPictures.ts';

type Read<K extends ReadDocument['kind']> = Extract<ReadDocument, { kind: K }>;
/** What other documents know a shader by. */
const fileName = (file: string): string => basename(file).replace(/\.shader\.json$/, '');
const partOf = <K extends 'shader' | 'stage' | 'material' | 'texture'>(
  kind: K,
  { name, body }: Pick<Read<K>, 'name' | 'body'>,
): PartOf<K> => newPart(kind, name, name, body as never) as PartOf<K>;

/** The budgets a project works to, and the one that comes first. */
export const budgetsBeside = (file: string): { readonly all: readonly Budget[]; readonly first: Budget } => {
  const found = sharedDocumentsBeside(file);
  const all = found.flatMap(({ budgets = [] }) => budgets);
  const list = all.length ? all : FIRST_BUDGETS;
  const named = found.find(({ budget }) => budget !== undefined)?.budget;
  return { all: list, first: list.find(({ name }) => name === named) ?? list[0]! };
};

/** A material's numbers and pictures, as the columns take them. */
const givenFor = async (file: string, shader: Read<'shader'>, material: Pick<Read<'material'>, 'body'>) => {
  const { parameters } = shader.body;
  const given = givenBy(parameters, material.body.values, sharedBeside(file));
  const files = Object.entries(material.body.pictures ?? {}).flatMap(([name, picture]) =>
    picture.includes('.') ? [`${name}=${join(dirname(file), picture)}`] : [],
  );
  const known = files.filter((each) => parameters.some(({ name }) => each.startsWith(`${name}=`)));
  const pictures = await readPictures(known, parameters, material.body.sampling);
  return { ...given, pictures: new Map([...pictures, ...given.pictures!]) };
};

/** Names of parameters that scripts beside a file read or set. */
const scriptedBeside = (file: string): Set<string> =>
  new Set(
    filesAt(dirname(file), /\.script\.(js|json)$/).flatMap((each) =>
      usesIn(readText(each)).flatMap(({ parameter }) => (parameter === null ? [] : [parameter])),
    ),
  );
/** What is wrong with a file beside this one is told of that one. */
const orNone = <T>(read: () => readonly T[]): readonly T[] => {
  try {
    return read();
  } catch {
    return [];
  }
};

/** A shader as it is worn by the materials beside it, each on the square of uv. */
export const lookIntoShader = async (file: string, shader: Read<'shader'>): Promise<Subject | null> => {
  const materials = materialsBeside(file, fileName(file));
  const worn: Worn[] = [];
  for (const material of materials)
    worn.push({
      ...{ material: { id: material.name, name: material.name }, prop: null, standing: uvSquare() },
      given: await givenFor(file, shader, material),
    });
  const plain = wornPlainly(shader.body.parameters);
  const pictures = await readPictures([], shader.body.parameters);
  const alone = {
    ...plain,
    given: { ...plain.given, pictures: new Map([...pictures, ...plain.given.pictures!]) },
  };
  return lookInto(partOf('shader', shader), libraryBeside(file), worn.length ? worn : [alone]);
};

/** What checks find in a shader by itself. */
export const findInShader = (file: string, subject: Subject): readonly Found[] =>
  findAll({
    ...{ subjects: [subject], set: null, shaders: [], scripts: [] },
    ...{ scripted: new Set(orNone(() => [...scriptedBeside(file)])), budget: budgetsBeside(file).first },
    materials: materialsBeside(file, fileName(file)).map((each) => partOf('material', each)),
    textures: orNone(() => texturesBeside(file)).map((each) => partOf('texture', each)),
  });

/** What checks find in a set: its shaders are looked at on its props, and told of where they are documents themselves. */
export const findInSet = async (file: string, set: Read<'stage'>): Promise<readonly Found[]> => {
  const worn = new Map<string, { readonly shader: Read<'shader'>; readonly list: Worn[] }>();
  const seen = new Set<string>();
  for (const prop of set.body.props) {
    const material = documentBeside(file, 'material', prop.material);
    const shader =
      material?.kind === 'material' ? documentBeside(file, 'shader', material.body.shader) : null;
    // What a picture or a file makes is not brought here, nor is it looked at.
    if (material?.kind !== 'material' || shader?.kind !== 'shader' || broughtFor(prop.mesh)) continue;
    // The same mesh in the same material is the same to every check.
    const same = JSON.stringify([prop.material, prop.mesh, prop.parent]);
    if (seen.has(same)) continue;
    seen.add(same);
    const { list } = worn.get(shader.name) ?? worn.set(shader.name, { shader, list: [] }).get(shader.name)!;
    list.push({
      material: { id: prop.material, name: material.name },
      prop: { id: prop.id, name: prop.name },
      standing: standingIn(set.body, prop.id)!,
      given: await givenFor(file, shader, material),
    });
  }
  const library = libraryBeside(file);
  const subjects = [...worn.values()].flatMap(
    ({ shader, list }) => lookInto(partOf('shader', shader), library, list) ?? [],
  );
  const part = partOf('stage', set);
  const scene: Scene = {
    ...{ subjects, set: part, materials: [], shaders: [], scripts: [] },
    ...{ scripted: new Set(), budget: budgetsBeside(file).first },
  };
  return findAll(scene, 'set').filter((each) => each.part === part.id);
};
