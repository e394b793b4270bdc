import { programOf } from './compileShader.ts';
import { propNamed, shownBy } from './document/recipes.ts';
import type { Library, NamedMotif } from './document/motif.ts';
import type { Part, PartOf } from './document/project.ts';
import type { Sampling } from './document/sampling.ts';
import type { Picture } from './evaluate/points/points.ts';
import { namedBy } from './images/declareStep.ts';
import type { Image } from './images/image.ts';
import { faceNamed } from './letters/faces.ts';
import type { Sources } from './images/makeTexture.ts';
import { broughtFor, makeMesh, type MeshRecipe } from './meshes/makeMesh.ts';
import type { Mesh } from './meshes/mesh.ts';
import { fromHalf, toHeldHalf } from './numbers/half.ts';
import { surfacePicture } from './taps/surfacePicture.ts';

type Known = Pick<Part, 'id' | 'kind' | 'name' | 'body'>;

/** What a texture parameter reads that no picture was given to: plain grey, as on the stage. */
export const GREY: Picture = {
  ...{ width: 1, height: 1, wrap: 'repeat', filter: 'nearest' },
  rgba: new Float32Array([128 / 255, 128 / 255, 128 / 255, 1]),
};
/** A picture as a shader samples it: its rows from the bottom up; of more than 8 bits, as half floats. */
export const sampledFrom = ({ width, height, data }: Image, sampling?: Sampling): Picture => {
  const [across, down] = [0, 1].map((i) => (sampling?.repeats[i] === false ? 'clamp' : 'repeat')) as [
    Picture['wrap'],
    Picture['wrap'],
  ];
  const rgba = new Float32Array(data.length);
  const row = width * 4;
  for (let y = 0; y < height; y += 1) rgba.set(data.subarray(y * row, (y + 1) * row), (height - 1 - y) * row);
  if (sampling?.bits) for (let i = 0; i < rgba.length; i += 1) rgba[i] = fromHalf(toHeldHalf(rgba[i]!));
  return {
    ...{ width, height, rgba, wrap: across, wrapDown: down },
    ...{ filter: sampling?.filter ?? 'linear', holds: sampling?.holds },
  };
};

/**
 * Where textures have from what is not made of image steps: surfaces of shaders and materials, and meshes of props.
 * @param picture a picture that was brought; meshes and heights have arrived before
 */
export const createSources = (
  all: Iterable<Known>,
  picture: (sha: string) => Image,
  progress?: (share: number) => void,
): Sources => {
  const parts = new Map([...all].map((each) => [each.id, each as Part]));
  /** One mesh has several maps as a rule. */
  const meshes = new Map<MeshRecipe, Mesh>();
  const meshFor = (recipe: MeshRecipe): Mesh => {
    const mesh = meshes.get(recipe) ?? makeMesh(recipe);
    meshes.set(recipe, mesh);
    return mesh;
  };
  return {
    ...{ picture, face: faceNamed },
    ...(progress ? { progress } : {}),
    surface: (word, size, time) => {
      const { id, inner: strand } = namedBy(word);
      const part = parts.get(id);
      const material = part?.kind === 'material' ? part : null;
      const shader = (material ? parts.get(material.body.shader) : part) as PartOf<'shader'> | undefined;
      if (shader?.kind !== 'shader') throw new Error('The shader that this reads was deleted.');
      const shown = shownBy(parts, id) as readonly Part[];
      const library: Library = new Map(
        shown.flatMap((each): [string, NamedMotif][] => (each.kind === 'motif' ? [[each.id, each]] : [])),
      );
      const { program, diagnostics } = programOf(shader.body, library);
      if (!program) throw new Error(`${shader.name} has a mistake: ${diagnostics[0]?.message ?? ''}`);
      const shared = shown.find((each): each is PartOf<'shared'> => each.kind === 'shared');
      return surfacePicture({
        ...{ program, size, time, strand, parameters: shader.body.parameters },
        authored: { values: material?.body.values ?? {}, shared: shared?.body.values ?? {} },
        pictures: new Map(
          shader.body.parameters.flatMap(({ id: key, kind, name }): [string, Picture][] => {
            if (kind !== 'texture') return [];
            const sha = material?.body.pictures?.[key];
            return [
              [name, sha === undefined ? GREY : sampledFrom(picture(sha), material?.body.sampling?.[key])],
            ];
          }),
        ),
      });
    },
    mesh: (word) => {
      const prop = propNamed(parts, word);
      if (!prop) throw new Error('The prop that this reads was deleted.');
      if (prop.mesh.kind === 'board') faceNamed(prop.mesh.face);
      const brought = broughtFor(prop.mesh);
      if (brought && !brought.isHere)
        throw new Error(`What the mesh of ${prop.name} is made of is not here.`);
      return meshFor(prop.mesh);
    },
  };
};
