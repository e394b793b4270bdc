import type { Choice } from '#core/document/kinds/stage.ts';
import { samplingHash, type Sampling } from '#core/document/sampling.ts';
import type { MaterialDocument } from '#core/document/project.ts';
import type { Parameter } from '#core/document/shader.ts';
import type { Drive } from '#core/time/resolveValues.ts';

/** An address tells how its picture is read, too, where that is not as usual. */
const fetchedFrom = (sha: string, sampling?: Sampling): string =>
  `/api/blobs/${sha}${sampling ? samplingHash(sampling) : ''}`;

/** Where each texture's picture is fetched from. */
export const picturesOf = ({
  pictures = {},
  sampling = {},
}: Pick<MaterialDocument, 'pictures' | 'sampling'>): Map<string, string> =>
  new Map(Object.entries(pictures).map(([name, sha]) => [name, fetchedFrom(sha, sampling[name])]));

/** The pictures that textures are driven to, by name: each stands at a place among those that it is chosen from. */
export const picturesChosen = (
  material: string,
  declared: readonly Parameter[],
  choices: readonly Choice[] | undefined,
  driven: ReadonlyMap<string, Pick<Drive, 'value'>> | undefined,
): ReadonlyMap<string, string> =>
  new Map(
    (choices ?? []).flatMap(({ material: of, parameter, pictures }): [string, string][] => {
      const name = of === material ? declared.find(({ id }) => id === parameter)?.name : undefined;
      const place = name === undefined ? undefined : driven?.get(name)?.value[0];
      const picture = place === undefined ? undefined : pictures[Math.round(place)];
      return name !== undefined && picture !== undefined ? [[name, picture]] : [];
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
  return picturesOf({ ...body, pictures: { ...body.pictures, ...Object.fromEntries(chosen) } });
};
