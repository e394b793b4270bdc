import { basename, dirname, join } from 'node:path';
import { findAll } from '#core/analyse/findAll.ts';
import { requirementsOf } from '#core/analyse/requirements.ts';
import { givenBy, lookInto, wornPlainly } from '#core/analyse/lookInto.ts';
import type { Finding as Found, Scene, Subject } from '#core/analyse/scene.ts';
import { standingIn, uvSquare } from '#core/analyse/standing.ts';
import type { Worn } from '#core/analyse/worn.ts';
import { FIRST_BUDGETS, type Budget } from '#core/document/budgets.ts';
import { newPart, type PartOf } from '#core/document/project.ts';
import { byName } from '#core/document/valueKeys.ts';
import { lowerShader } from '#core/lower/lowerShader.ts';
import { broughtFor } from '#core/meshes/makeMesh.ts';
import { usesIn } from '#script/usesIn.ts';
import { documentBeside, filesAt, idOf } from './documents.ts';
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
  const files = Object.entries(byName(material.body.pictures, parameters)).flatMap(([name, picture]) =>
    picture.includes('.') ? [`${name}=${join(dirname(file), picture)}`] : [],
  );
  const known = files.filter((each) => parameters.some(({ name }) => each.startsWith(`${name}=`)));
  const pictures = await readPictures(known, parameters, byName(material.body.sampling, parameters));
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

/** Whether a shader asks how far other surfaces are. */
const asksNear = (file: string, shader: Read<'shader'>): boolean => {
  const { program, diagnostics } = lowerShader(shader.body, libraryBeside(file));
  return !diagnostics.length && requirementsOf(program).includes('surfaceDistance');
};

/** A shader on the props of a set that wear it, with what is near them where it asks for that. */
const wornInSet = async (
  file: string,
  set: Read<'stage'>,
  shader: Read<'shader'>,
  asks = asksNear(file, shader),
): Promise<Worn[]> => {
  const near = asks ? (await import('./nearInSet.ts')).nearInSet(set.body) : () => undefined;
  const worn: Worn[] = [];
  const seen = new Set<string>();
  for (const prop of set.body.props) {
    const material = documentBeside(file, 'material', prop.material);
    // What a picture or a file makes is not brought here, nor is it looked at.
    if (material?.kind !== 'material' || material.body.shader !== shader.name || broughtFor(prop.mesh))
      continue;
    // The same mesh in the same material is the same to every check.
    const same = JSON.stringify([prop.material, prop.mesh, prop.parent]);
    if (seen.has(same)) continue;
    seen.add(same);
    const others = near(prop.id);
    worn.push({
      material: { id: prop.material, name: material.name },
      prop: { id: prop.id, name: prop.name },
      standing: { ...standingIn(set.body, prop.id)!, ...(others && { near: others }) },
      given: await givenFor(file, shader, material),
    });
  }
  return worn;
};

/** Where a shader that asks for distances is worn in the sets beside it: alone, it has nothing to be near to. */
const wornInSets = async (file: string, shader: Read<'shader'>): Promise<Worn[]> => {
  if (!asksNear(file, shader)) return [];
  const named = { ...shader, name: fileName(file) };
  const worn: Worn[] = [];
  const sets = orNone(() =>
    filesAt(dirname(file), /\.stage\.json$/).map((each) => documentBeside(file, 'stage', idOf(each))),
  );
  for (const set of sets) if (set?.kind === 'stage') worn.push(...(await wornInSet(file, set, named, true)));
  return worn;
};

/** A shader as it is worn by the materials beside it, each on the square of uv; in its sets, where it asks for distances. */
export const lookIntoShader = async (file: string, shader: Read<'shader'>): Promise<Subject | null> => {
  const materials = materialsBeside(file, fileName(file));
  const worn = await wornInSets(file, shader);
  const inSets = new Set(worn.map((each) => each.material?.name));
  for (const material of materials.filter(({ name }) => !inSets.has(name)))
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
  const library = libraryBeside(file);
  const materials = set.body.props.flatMap((prop) => {
    const found = documentBeside(file, 'material', prop.material);
    return found?.kind === 'material' ? [found] : [];
  });
  const subjects: Subject[] = [];
  for (const name of new Set(materials.map(({ body }) => body.shader))) {
    const shader = documentBeside(file, 'shader', name);
    if (shader?.kind !== 'shader') continue;
    const worn = await wornInSet(file, set, { ...shader, name });
    const subject = worn.length ? lookInto(partOf('shader', shader), library, worn) : null;
    if (subject) subjects.push(subject);
  }
  const part = partOf('stage', set);
  const scene: Scene = {
    ...{ subjects, set: part, materials: [], shaders: [], scripts: [] },
    ...{ scripted: new Set(), budget: budgetsBeside(file).first },
  };
  return findAll(scene, 'set').filter((each) => each.part === part.id);
};
