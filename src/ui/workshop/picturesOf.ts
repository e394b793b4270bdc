import type { MaterialDocument } from '#core/document/project.ts';

/** Where each texture's picture is fetched from. */
export const picturesOf = ({ pictures = {} }: MaterialDocument): Map<string, string> =>
  new Map(Object.entries(pictures).map(([name, sha]) => [name, `/api/blobs/${sha}`]));
