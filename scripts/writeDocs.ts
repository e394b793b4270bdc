// What is published of the code itself: the operators' reference, the page on checks, and a JSON Schema for each kind of document.
import { mkdirSync, writeFileSync } from 'node:fs';
import { format, resolveConfig } from 'prettier';
import { costOf } from '#core/analyse/operatorCost.ts';
import { schemaFile, schemaOf, SCHEMA_KINDS } from '#core/document/schemas.ts';
import { zlibSync } from 'fflate';
import type { Part } from '#core/document/project.ts';
import { recipesOf } from '#core/document/recipes.ts';
import { BITS, encodePicture, endingOf } from '#core/images/encodePicture.ts';
import { createMaker } from '#core/images/makeTexture.ts';
import { createSources } from '#core/textureSources.ts';
import { playhouse } from '#demo/playhouse.ts';
import { checksPage } from '#core/analyse/checksReference.ts';
import { takeValuesSchema } from '#core/time/takes.ts';
import { stepsPage } from '#core/images/stepsReference.ts';
import { scriptsPage } from '#script/scriptWords.ts';
import { referencePage } from '#core/analyse/operatorReference.ts';

const root = new URL('../', import.meta.url);

const takeInputs = (schemaOf('take') as { readonly properties: { readonly inputs: unknown } }).properties
  .inputs;

/** Every published file by its path, as it should stand. */
export const publishedFiles = async (): Promise<Map<string, string>> => {
  const config = await resolveConfig(new URL('package.json', root));
  const tidy = (text: string, parser: string) => format(text, { ...config, parser });
  return new Map([
    ['docs/checks.md', await tidy(checksPage(), 'markdown')],
    [
      'static/schema/take-values-1.schema.json',
      await tidy(JSON.stringify(takeValuesSchema(takeInputs)), 'json'),
    ],
    ['docs/scripts.md', await tidy(scriptsPage(), 'markdown')],
    ['docs/textures.md', await tidy(stepsPage(), 'markdown')],
    ['docs/operators.md', await tidy(referencePage(costOf), 'markdown')],
    ...(await Promise.all(
      SCHEMA_KINDS.map(
        async (kind) =>
          [`static/schema/${schemaFile(kind)}`, await tidy(JSON.stringify(schemaOf(kind)), 'json')] as const,
      ),
    )),
  ]);
};

/** What the demo’s textures come to, as files beside its documents. */
export const publishedPictures = (): ReadonlyMap<string, Uint8Array> => {
  const parts = playhouse().parts as unknown as readonly Part[];
  const none = (): never => {
    throw new Error('The playhouse brings no picture.');
  };
  const maker = createMaker(recipesOf(parts), createSources(parts, none));
  return new Map(
    parts.flatMap((part) => {
      if (part.kind !== 'texture') return [];
      const { holds } = part.body;
      const bits = BITS.find((each) => each === part.body.bits) ?? 8;
      const { file } = encodePicture(maker.rows(part.id), { holds, bits }, zlibSync);
      return [[`demo/gallowglass/${part.id}.${endingOf(bits)}`, file]];
    }),
  );
};

if (process.argv[1]?.endsWith('writeDocs.ts')) {
  mkdirSync(new URL('static/schema/', root), { recursive: true });
  for (const [path, text] of await publishedFiles()) writeFileSync(new URL(path, root), text);
  for (const [path, bytes] of publishedPictures()) writeFileSync(new URL(path, root), bytes);
}
