import { keysProblem } from '../numbers/curve.ts';
import { start } from './cues.ts';
import {
  flag,
  id,
  list,
  number,
  numbers,
  object,
  oneOf,
  optional,
  standing,
  text,
  told,
  type Field,
  type Read,
} from './fields.ts';
import { mesh } from './mesh.ts';
import type { Reader } from './read.ts';
import { checkBox, placed } from './targets.ts';
import { MOST_NUMBERS } from './values.ts';

export const MOST_FLOURISHES = 64;
export const MOST_LAYERS = 32;
export const MOST_SPRITES = 512;
export const MOST_SEGMENTS = 256;
/** Seconds a layer may live, and a sprite or what a moving point leaves behind may last. */
export const LONGEST_LIFE = 600;
export const LONGEST_LAST = 10;
/** How often one flourish plays at the same time; one more takes the place of the first. */
export const MOST_PLAYS = 8;

const curve: Field<readonly number[]> = list(number, MOST_NUMBERS);
const overLife = told(curve, 'Over the layer’s life, from 0 to 1: x, y, slope before, slope after per key.');

const lifetime = object({
  parameter: told(id, 'The id of one of the shader’s lifetime parameters.'),
  curves: told(list(overLife, 4), 'One for each of its numbers; they need not stay within 0–1.'),
});

const end = object({
  of: optional(told(placed, 'What it is on; the flourish’s own place where it is not told.')),
  at: told(numbers(3), 'Metres, in the space of what it is on.'),
  way: told(numbers(3), 'Where the ribbon sets out to here, or comes from: its tangent, in metres.'),
  sway: optional(told(numbers(3), 'Metres it goes to and fro: x by sine, y by cosine, z by a slower sine.')),
  every: optional(told(number, 'Seconds of one sway; 1 where it is not told.')),
});
export type RibbonEnd = Read<typeof end>;

const ribbon = object({
  from: end,
  to: optional(told(end, 'Where it ends; where it is not told, it is what its moving point leaves behind.')),
  lasts: optional(told(number, 'Of what is left behind, seconds; 0.5 where it is not told.')),
  raw: optional(told(flag, 'Left as the point went, tick by tick; else smoothed, and even along it.')),
  segments: told(number, 'Between its corners, along it.'),
  width: told(number, 'Metres.'),
  widths: optional(told(curve, 'What the width is multiplied by, along it.')),
  color: optional(
    told(list(number, MOST_NUMBERS), 'Along it: where, r, g, b per stop; white where none is told.'),
  ),
  fade: optional(
    told(curve, 'Its brightness by the age of what is seen, as a share of how long that lasts.'),
  ),
  reach: optional(
    told(number, 'Metres between its ends beyond which it breaks; it dims from three quarters of that.'),
  ),
});
export type Ribbon = Read<typeof ribbon>;

const sprites = object({
  count: told(number, 'How many there are at once.'),
  rate: optional(
    told(number, 'How many begin in a second, while the layer lives; all at once where it is not told.'),
  ),
  lasts: told(number, 'Seconds each lasts.'),
  speed: told(numbers(2), 'Metres a second, the least and the most.'),
  way: told(numbers(3), 'Where they set out to.'),
  spread: told(number, 'Degrees to every side of that, up to 180: every way.'),
  inherits: standing(
    told(number, 'How much of the motion of their place they take with them, from 0 to 1.'),
    0,
  ),
  gravity: standing(told(number, 'Metres a second squared, downwards.'), 0),
  drag: standing(told(number, 'The share of their speed they lose, a second, as an exponent.'), 0),
  size: told(number, 'Metres from edge to edge.'),
  sizes: optional(told(curve, 'What that is multiplied by over each one’s own life.')),
  byOrder: optional(told(curve, 'What it is multiplied by from the first to the last.')),
  along: optional(told(id, 'The ribbon layer that they sit on, at even lengths of it.')),
});
export type Sprites = Read<typeof sprites>;

export const LAYER_KINDS = ['mesh', 'ribbon', 'sprites'] as const;
const layer = object({
  id,
  name: text(120),
  kind: oneOf(LAYER_KINDS),
  material: told(id, 'The material part’s id.'),
  off: optional(flag),
  start: standing(told(number, 'Seconds after the flourish begins.'), 0),
  life: told(number, 'Seconds.'),
  at: standing(told(numbers(3), 'Metres, from the place of the flourish.'), [0, 0, 0]),
  rotation: standing(told(numbers(3), 'Degrees about x, then y, then z.'), [0, 0, 0]),
  size: standing(told(number, 'What all of it is multiplied by.'), 1),
  sizes: optional(told(overLife, 'What the size is multiplied by, over its life.')),
  spin: standing(told(number, 'Degrees a second about its spin axis.'), 0),
  spinAxis: standing(numbers(3), [0, 0, 1]),
  spinForce: optional(told(overLife, 'What the spin is multiplied by, over its life.')),
  values: standing(list(lifetime, 64), []),
  drawOrder: optional(told(number, 'Of what blends: drawn after what has less, however far it is.')),
  mesh: optional(mesh),
  ribbon: optional(ribbon),
  sprites: optional(sprites),
});
/** A mesh, a ribbon or a shower of sprites, and how it lives. */
export type FlourishLayer = Read<typeof layer>;

const flourish = object({
  id,
  name: text(120),
  of: optional(told(placed, 'What it is on; the world where it is not told.')),
  at: standing(told(numbers(3), 'Metres, in the space of what it is on.'), [0, 0, 0]),
  rotation: standing(told(numbers(3), 'Degrees about x, then y, then z.'), [0, 0, 0]),
  follows: optional(told(flag, 'Goes on with what it is on; else it stays where it began.')),
  play: standing(oneOf(['once', 'looped']), 'once'),
  seed: standing(told(number, 'A whole number: the same gives the same chance.'), 1),
  off: optional(told(flag, 'It is started by nothing but the author and scripts.')),
  starts: standing(list(start, 8), []),
  layers: list(layer, MOST_LAYERS),
});
/** A layered, short-lived effect. */
export type Flourish = Read<typeof flourish>;
export const flourishes = told(
  list(flourish, MOST_FLOURISHES),
  'Layers of meshes, ribbons and sprites that live for a time.',
);

/** Seconds a layer takes from its start until nothing of it is left. */
export const layerLength = ({ life, sprites, kind, ribbon }: FlourishLayer): number =>
  kind === 'sprites' && sprites && sprites.along === undefined
    ? sprites.rate === undefined
      ? Math.max(life, sprites.lasts)
      : life + sprites.lasts
    : kind === 'ribbon' && ribbon && !ribbon.to
      ? life + (ribbon.lasts ?? 0.5)
      : life;
/** Seconds a flourish takes. */
export const flourishLength = ({ layers }: Pick<Flourish, 'layers'>): number =>
  Math.max(1 / 60, ...layers.filter(({ off }) => !off).map((each) => each.start + layerLength(each)));

/** Says what no field can tell alone. */
export const checkFlourishes = (r: Reader, list: readonly Flourish[]): void => {
  const seen = new Set<string>();
  const once = (one: string, what: string, path: string): void => {
    if (seen.has(one)) r.problem(`${path}.id`, `Two ${what} have the id “${one}”.`);
    seen.add(one);
  };
  const within = (x: number | undefined, least: number, most: number, path: string): void => {
    if (x !== undefined && !(x >= least && x <= most))
      r.problem(path, `This should lie between ${least} and ${most}, and is ${x}.`);
  };
  const whole = (x: number, least: number, most: number, path: string): void => {
    within(x, least, most, path);
    if (!Number.isInteger(x)) r.problem(path, `A whole number is wanted here; this is ${x}.`);
  };
  const keys = (given: readonly number[] | undefined, path: string, what: 'key' | 'stop' = 'key'): void => {
    const problem = given && keysProblem(given, what);
    if (problem) r.problem(path, problem);
  };
  list.forEach((each, i) => {
    const path = `flourishes[${i}]`;
    once(each.id, 'flourishes', path);
    whole(each.seed, 0, 65535, `${path}.seed`);
    each.starts.forEach(({ box }, k) => checkBox(r, box, `${path}.starts[${k}].box`));
    each.layers.forEach((layer, k) => {
      const at = `${path}.layers[${k}]`;
      once(layer.id, 'layers', at);
      if (!layer[layer.kind])
        r.problem(at, `A layer of the kind ${layer.kind} says in “${layer.kind}” what it is.`);
      within(layer.start, 0, LONGEST_LIFE, `${at}.start`);
      within(layer.life, 1 / 60, LONGEST_LIFE, `${at}.life`);
      within(layer.size, 1e-4, 1000, `${at}.size`);
      within(layer.spin, -36000, 36000, `${at}.spin`);
      keys(layer.sizes, `${at}.sizes`);
      keys(layer.spinForce, `${at}.spinForce`);
      layer.values.forEach(({ curves }, n) =>
        curves.forEach((given, c) => keys(given, `${at}.values[${n}].curves[${c}]`)),
      );
      const { ribbon: band, sprites: shower } = layer;
      if (band) {
        whole(band.segments, 1, MOST_SEGMENTS, `${at}.ribbon.segments`);
        within(band.width, 0, 100, `${at}.ribbon.width`);
        within(band.lasts, 1 / 60, LONGEST_LAST, `${at}.ribbon.lasts`);
        within(band.reach, 0, 1000, `${at}.ribbon.reach`);
        within(band.from.every, 0.01, 3600, `${at}.ribbon.from.every`);
        within(band.to?.every, 0.01, 3600, `${at}.ribbon.to.every`);
        keys(band.widths, `${at}.ribbon.widths`);
        keys(band.fade, `${at}.ribbon.fade`);
        keys(band.color, `${at}.ribbon.color`, 'stop');
      }
      if (shower) {
        whole(shower.count, 1, MOST_SPRITES, `${at}.sprites.count`);
        within(shower.rate, 0.01, 10_000, `${at}.sprites.rate`);
        within(shower.lasts, 1 / 60, LONGEST_LAST, `${at}.sprites.lasts`);
        within(shower.spread, 0, 180, `${at}.sprites.spread`);
        within(shower.inherits, 0, 1, `${at}.sprites.inherits`);
        within(shower.drag, 0, 100, `${at}.sprites.drag`);
        within(shower.size, 0, 100, `${at}.sprites.size`);
        keys(shower.sizes, `${at}.sprites.sizes`);
        keys(shower.byOrder, `${at}.sprites.byOrder`);
        if (shower.along !== undefined && shower.along === layer.id)
          r.problem(`${at}.sprites.along`, 'Sprites sit on a ribbon layer, and not on themselves.');
      }
    });
  });
};
