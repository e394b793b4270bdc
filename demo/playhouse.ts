import { existsSync, readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import { createHash } from 'node:crypto';
import { parsePart } from '#core/document/parsePart.ts';
import type { Part, PartKind } from '#core/document/project.ts';
import { recipesOf } from '#core/document/recipes.ts';
import { digestOf } from '#core/images/recipe.ts';

/** One part of the sample project, before it is given to a server. */
export interface SamplePart {
  readonly id: string;
  readonly kind: PartKind;
  readonly name: string;
  readonly body: unknown;
}

/** Beside this file; built into the server, this stands elsewhere, and the files where the server was started. */
const beside = new URL('./gallowglass/', import.meta.url);
const folder = existsSync(beside) ? beside : pathToFileURL(`${resolve('demo/gallowglass')}/`);
const text = (file: string): string => readFileSync(new URL(file, folder), 'utf8');

const FILES: readonly (readonly [id: string, kind: PartKind, name: string])[] = [
  ['curtain-burn-away', 'shader', 'Curtain burn-away'],
  ['stage-boards', 'shader', 'Stage boards'],
  ['painted-backdrop', 'shader', 'Painted backdrop'],
  ['bell-swing', 'shader', 'Bell swing'],
  ['scrim-haze', 'shader', 'Scrim haze'],
  ['ghost-light-mural', 'shader', 'Ghost light'],
  ['lamp-glass', 'shader', 'Lamp glass'],
  ['furnace-heat', 'shader', 'Furnace heat'],
  ['live-coals', 'shader', 'Live coals'],
  ['painted-flat', 'shader', 'Painted flat'],
  ['wrought-iron', 'shader', 'Wrought iron'],
  ['trapdoor-whorl', 'shader', 'Trapdoor whorl'],
  ['rising-glow', 'shader', 'Rising glow'],
  ['worn-brass', 'shader', 'Worn brass'],
  ['gilt-glint', 'shader', 'Gilt glint'],
  ['dark-lacquer', 'shader', 'Dark lacquer'],
  ['playbill', 'shader', 'Embossed playbill'],
  ['damask-plaster', 'shader', 'Damask over plaster'],
  ['rolling-timber', 'shader', 'Rolling timber'],
  ['rolling-bulb', 'shader', 'Rolling bulb'],
  ['struck-steel', 'shader', 'Struck steel'],
  ['lamp-oil', 'shader', 'Lamp oil'],
  ['clear-glass', 'shader', 'Clear glass'],
  ['lamp-flame', 'shader', 'Lamp flame'],
  ['damp-plaster-wall', 'shader', 'Damp wall'],
  ['swelling-mass', 'shader', 'Swelling mass'],
  ['frame-relief', 'shader', 'Frame relief'],
  ['painted-hills', 'shader', 'Painted hills'],
  ['painted-sky', 'shader', 'Painted sky'],
  ['hung-marionette', 'shader', 'Hung marionette'],
  ['bell-sweep', 'shader', 'Bell sweep'],
  ['struck-spark', 'shader', 'Struck spark'],
  ['turned-bronze', 'shader', 'Turned bronze'],
  ['arc-thread', 'shader', 'Arc thread'],
  ['arc-flare', 'shader', 'Arc flare'],
  ['tallow', 'shader', 'Tallow'],
  ['lit-cloth', 'shader', 'Footlit cloth'],
  ['seeping-plaster', 'shader', 'Seeping plaster'],
  ['heights-for-textures', 'shader', 'Heights for textures'],
  ['near-and-far', 'motif', 'Near and far'],
  ['velvet-house-left', 'material', 'Velvet, house left'],
  ['boards-downstage', 'material', 'Boards, downstage'],
  ['arches-upstage', 'material', 'Arches, upstage'],
  ['bell-at-midnight', 'material', 'Bell at midnight'],
  ['teal-haze', 'material', 'Teal haze'],
  ['flats-wings', 'material', 'Flats, wings'],
  ['hanging-crescents', 'material', 'Gilt, hanging'],
  ['iron-work', 'material', 'Iron work'],
  ['painted-mural', 'material', 'Painted mural'],
  ['bulb', 'material', 'Bulb'],
  ['rising-heat', 'material', 'Rising heat'],
  ['coals', 'material', 'Coals'],
  ['checkered-flats', 'material', 'Flats, far'],
  ['whorl', 'material', 'Whorl'],
  ['trap-haze', 'material', 'Haze over the trap'],
  ['brass-work', 'material', 'Brass work'],
  ['gilding', 'material', 'Gilding'],
  ['lacquer', 'material', 'Lacquer'],
  ['bill-of-the-night', 'material', 'Bill of the night'],
  ['damask-wall', 'material', 'Damask wall'],
  ['planks', 'material', 'Planks'],
  ['posts', 'material', 'Posts'],
  ['crate-wood', 'material', 'Crates'],
  ['footlights', 'material', 'Footlights'],
  ['thunder-steel', 'material', 'Thunder steel'],
  ['damp-plaster', 'material', 'Damp plaster'],
  ['soft-mass', 'material', 'Soft mass'],
  ['relief-over-all', 'material', 'Relief over all'],
  ['oil', 'material', 'Oil'],
  ['glass', 'material', 'Glass'],
  ['flame', 'material', 'Flame'],
  ['hills', 'material', 'Hills'],
  ['sky-cloth', 'material', 'Sky cloth'],
  ['marionette', 'material', 'Marionette, red'],
  ['marionette-blue', 'material', 'Marionette, blue'],
  ['strings', 'material', 'Strings'],
  ['sweep-silver', 'material', 'Sweep, silver'],
  ['spark', 'material', 'Spark'],
  ['bell-bronze', 'material', 'Bell bronze'],
  ['arc-light', 'material', 'Arc light'],
  ['flare', 'material', 'Flare'],
  ['saint-wax', 'material', 'Saint’s wax'],
  ['footlit-cloth', 'material', 'Footlit cloth'],
  ['seeping-wall', 'material', 'Seeping plaster, wet'],
  ['whorl-order', 'texture', 'Whorl'],
  ['hill-heights', 'texture', 'Hills'],
  ['trowelled-heights', 'texture', 'Trowelled plaster'],
  ['plaster-directions', 'texture', 'Plaster, directions'],
  ['damask-directions', 'texture', 'Damask, directions'],
  ['footlight-tile', 'texture', 'Footlight shimmer'],
  ['plaster-drift', 'texture', 'Drift'],
  ['cracked-plaster', 'texture', 'Cracked plaster'],
  ['seep-masks', 'texture', 'Seep masks'],
  ['saint-thickness', 'texture', 'Saint, thickness'],
  ['saint-curvature', 'texture', 'Saint, curvature'],
  ['saint-hollows', 'texture', 'Saint, hollows'],
  ['saint-maps', 'texture', 'Saint, maps'],
  ['saint-thin', 'texture', 'Saint, thin places'],
  ['shared-values', 'shared', 'Shared values'],
  ['proscenium', 'stage', 'Proscenium'],
  ['rolling-boards', 'stage', 'Rolling boards'],
  ['far-hills', 'stage', 'Painted backdrop'],
  ['scrim', 'stage', 'Scrim'],
  ['ghost-light', 'stage', 'Ghost light'],
  ['furnace-mouth', 'stage', 'Furnace mouth'],
  ['thunder-sheet', 'stage', 'Thunder sheet'],
  ['damp-wall', 'stage', 'Damp wall'],
  ['trapdoor', 'stage', 'Trapdoor'],
  ['gilt-cartouche', 'stage', 'Gilt cartouche'],
  ['oil-lamp', 'stage', 'Oil lamp'],
  ['struck-bell', 'stage', 'Bell swing'],
  ['carbon-arc', 'stage', 'Carbon arc'],
  ['embossed-playbill', 'stage', 'Embossed playbill'],
  ['damask-over-plaster', 'stage', 'Damask over plaster'],
  ['tallow-saint', 'stage', 'Tallow saint'],
  ['footlight-shimmer', 'stage', 'Footlight shimmer'],
  ['plaster-seep', 'stage', 'Plaster seep'],
  ['curtain', 'script', 'Curtain'],
  ['whorl-breath', 'script', 'Whorl'],
  ['gleam', 'script', 'Gleam'],
  ['press', 'script', 'Press'],
  ['weave', 'script', 'Weave'],
  ['haze', 'script', 'Haze'],
  ['rolling', 'script', 'Rolling'],
  ['thunder', 'script', 'Thunder'],
  ['slosh', 'script', 'Slosh'],
  ['seeping', 'script', 'Seeping'],
  ['nearing', 'script', 'Nearing'],
  ['carried-light', 'script', 'Carried light'],
  ['furnace', 'script', 'Furnace'],
  ['toll', 'script', 'Toll'],
  ['parting', 'script', 'Parting'],
  ['candle-walk', 'script', 'Candle walk'],
  ['footlight-flicker', 'script', 'Footlight flicker'],
  ['rising-damp', 'script', 'Rising damp'],
];

/** Pictures of the playhouse by their files: what its textures were baked to. */
export const pictures = (): ReadonlyMap<string, Uint8Array> => (readPictures ??= readAllPictures());
let readPictures: ReadonlyMap<string, Uint8Array> | null = null;
const readAllPictures = (): ReadonlyMap<string, Uint8Array> =>
  new Map(
    FILES.flatMap(([id, kind]): [string, Uint8Array][] =>
      kind === 'texture' ? [[`${id}.png`, readFileSync(new URL(`${id}.png`, folder))]] : [],
    ),
  );

const shaOf = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/** The Gallowglass Playhouse: a shabby theatre at night, and its stage tricks. @throws Error when a file is wrong */
export const playhouse = (): Playhouse => (read ??= readPlayhouse());
interface Playhouse {
  readonly name: string;
  readonly parts: readonly SamplePart[];
}
/** It is the same for as long as a server runs: the wall asks for it with every visit. */
let read: Playhouse | null = null;
const readPlayhouse = (): Playhouse => {
  // Project files name the playhouse's pictures; a server knows them by their SHA-256.
  const shas = new Map([...pictures()].map(([file, bytes]) => [file, shaOf(bytes)]));
  const known = (_: string, value: unknown): unknown =>
    typeof value === 'string' ? (shas.get(value) ?? value) : value;
  const parts = FILES.map(([id, kind, name]) => {
    const body: unknown =
      kind === 'script'
        ? { format: 'wicked-veil/script', version: 1, source: text(`${id}.script.js`) }
        : JSON.parse(text(`${id}.${kind}.json`), known);
    const { problems } = parsePart(kind, body);
    if (problems.length)
      throw new Error(`${id}.${kind}: ${problems.map((each) => `${each.path}: ${each.message}`).join(' ')}`);
    return { id, kind, name, body };
  });
  const recipes = recipesOf(parts as unknown as readonly Part[]);
  const baked = parts.map((each) =>
    each.kind === 'texture'
      ? { ...each, body: { ...(each.body as object), bakedOf: digestOf(each.id, recipes) } }
      : each,
  );
  return { name: 'The Gallowglass Playhouse', parts: baked };
};
