import { picturesIn } from '../images/recipe.ts';
import { broughtFor } from '../meshes/makeMesh.ts';
import type { Part } from './project.ts';

/** Every picture that a project's materials and sets name and every mesh its sets do, by SHA-256, with the folder of its files. */
export const blobsIn = (
  parts: readonly Pick<Part, 'kind' | 'body'>[],
): ReadonlyMap<string, 'pictures' | 'meshes'> =>
  new Map(
    (parts as readonly Part[]).flatMap((part): [string, 'pictures' | 'meshes'][] => {
      if (part.kind === 'material')
        return Object.values(part.body.pictures ?? {}).map((sha) => [sha, 'pictures']);
      if (part.kind === 'texture')
        return [...picturesIn(part.body.steps), ...(part.body.baked ? [part.body.baked] : [])].map((sha) => [
          sha,
          'pictures',
        ]);
      if (part.kind !== 'stage') return [];
      const { environment, props, choices = [], flourishes = [] } = part.body;
      const recipes = [
        ...props.map(({ mesh }) => mesh),
        ...flourishes.flatMap(({ layers }) => layers.flatMap(({ mesh }) => mesh ?? [])),
      ];
      return [
        ...(environment ? [[environment.picture, 'pictures'] as [string, 'pictures']] : []),
        ...choices.flatMap(({ pictures }) => pictures.map((sha): [string, 'pictures'] => [sha, 'pictures'])),
        ...recipes.flatMap((recipe): [string, 'pictures' | 'meshes'][] => {
          const brought = broughtFor(recipe);
          return brought && brought.what !== 'letters'
            ? [[brought.blob, brought.what === 'mesh' ? 'meshes' : 'pictures']]
            : [];
        }),
      ];
    }),
  );
