import type { Choice } from '#core/document/kinds/stage.ts';
import { samplingHash, type Sampling } from '#core/document/sampling.ts';
import type { MaterialDocument } from '#core/document/project.ts';
import type { Parameter } from '#core/document/shader.ts';
import type { Drive } from '#core/time/resolveValues.ts';

/** An address tells how its picture is read, too, where that is not as usual. */
const fetchedFrom = (sha: string, sampling?: Sampling): string =>
  `/api/blobs/${sha}${sampling ? samplingHash(sampling) : ''}`;

/** Where each texture's picture is fetched from. */
export const picturesOf = (
  { pictures = {}, sampling = {} }: Pick<MaterialDocument, 'pictures' | 'sampling'>,
  declared: readonly Parameter[],
): Map<string, string> =>
  new Map(
    declared.flatMap(({ id, name }): [string, string][] =>
      Object.hasOwn(pictures, id) ? [[name, fetchedFrom(pictures[id]!, sampling[id])]] : [],
    ),
  );

/** The pictures that textures are driven to: each value is a place among the pictures to choose from. */
export const picturesChosen = (
  material: string,
  declared: readonly Parameter[],
  choices: readonly Choice[] | undefined,
  driven: ReadonlyMap<string, Pick<Drive, 'value'>> | undefined,
): ReadonlyMap<Parameter, string> =>
  new Map(
    (choices ?? []).flatMap(({ material: of, parameter, pictures }): [Parameter, string][] => {
      const own = of === material ? declared.find(({ id }) => id === parameter) : undefined;
      const place = own && driven?.get(own.name)?.value[0];
      const picture = place === undefined ? undefined : pictures[Math.round(place)];
      return own && picture !== undefined ? [[own, picture]] : [];
    }),
  );

/** Where each texture’s picture is fetched from, as it is driven. */
export const picturesNow = (
  { id, body }: { readonly id: string; readonly body: Pick<MaterialDocument, 'pictures' | 'sampling'> },
  declared: readonly Parameter[],
  choices: readonly Choice[] | undefined,
  driven: ReadonlyMap<string, Pick<Drive, 'value'>> | undefined,
): Map<string, string> => {
  const chosen = picturesChosen(id, declared, choices, driven);
  const driving = Object.fromEntries([...chosen].map(([parameter, sha]) => [parameter.id, sha]));
  return picturesOf({ ...body, pictures: { ...body.pictures, ...driving } }, declared);
};
