import type { Flourish, FlourishLayer } from '../document/flourishes.ts';
import { curveAt, gradientAt } from '../numbers/curve.ts';
import type { Affine } from '../numbers/placement.ts';
import type { Triple } from '../numbers/vectors.ts';
import { layerSize, type LayerNow } from './playFlourishes.ts';
import { alongStrip, brightnessOf, NO_STRIP, rawTrail, stripOf, type Strip } from './ribbons.ts';
import { sizeOf, spritesNow, type DrawnSprites } from './sprites.ts';

/** A ribbon as it is drawn: corners come in pairs across each of its points. */
export interface DrawnBand extends Strip {
  /** Metres from edge to edge, at each point. */
  readonly widths: readonly number[];
  /** Linear r, g, b and brightness, four to a point. */
  readonly colors: readonly number[];
}

/** A layer as a stage draws it, in the world. */
export interface DrawnLayer {
  /** The same for the same layer of the same play. */
  readonly key: string;
  readonly material: string;
  readonly age: number;
  readonly seed: number;
  /** Its lifetime parameters, by name. */
  readonly values: LayerNow['values'];
  readonly drawOrder: number;
  readonly drawn:
    | { readonly kind: 'mesh'; readonly recipe: NonNullable<FlourishLayer['mesh']>; readonly place: Affine }
    | { readonly kind: 'ribbon'; readonly band: DrawnBand }
    | { readonly kind: 'sprites'; readonly sprites: DrawnSprites };
}

const bandOf = (layer: FlourishLayer, now: LayerNow): DrawnBand => {
  const ribbon = layer.ribbon!;
  const strip = stripOf(ribbon, now.shape, now.age);
  const last = Math.max(strip.points.length - 1, 1);
  const near = brightnessOf(ribbon, now.shape);
  const lasts = ribbon.to ? layer.life : (ribbon.lasts ?? 0.5);
  const size = layerSize(layer, now.age);
  return {
    ...strip,
    widths: strip.points.map(
      (_, i) => ribbon.width * size * (ribbon.widths ? curveAt(ribbon.widths, i / last) : 1),
    ),
    colors: strip.ages.flatMap((age, i) => {
      const fade = ribbon.fade ? curveAt(ribbon.fade, Math.min(age / lasts, 1)) : 1;
      return [...(ribbon.color ? gradientAt(ribbon.color, i / last) : [1, 1, 1]), fade * near];
    }),
  };
};

/** Sprites at even lengths of a ribbon; as it dims they shrink, and go out with it. */
const sittingOn = (layer: FlourishLayer, now: LayerNow, strip: Strip, bright: number): DrawnSprites => {
  const sprites = layer.sprites!;
  const points: readonly Triple[] = strip.points.length ? alongStrip(strip, sprites.count) : [];
  const orders = points.map((_, i) => (points.length > 1 ? i / (points.length - 1) : 0));
  const size = layerSize(layer, now.age);
  return {
    ...{ points, orders, ages: points.map(() => now.age) },
    sizes: orders.map((order) => sizeOf(sprites, Math.min(now.age / layer.life, 1), order) * size * bright),
    seeds: points.map((_, i) => (now.seed + i) % 65536),
  };
};

/** What a stage draws of flourishes as they stand; layers that there are no more are left out. */
export const drawnLayers = (flourishes: readonly Flourish[], now: readonly LayerNow[]): DrawnLayer[] => {
  const byId = new Map(flourishes.flatMap(({ layers }) => layers).map((each) => [each.id, each]));
  const bands = new Map<string, DrawnBand>();
  const bandFor = (each: LayerNow, layer: FlourishLayer): DrawnBand => {
    const key = `${each.layer} ${each.slot}`;
    const band = bands.get(key) ?? bandOf(layer, each);
    bands.set(key, band);
    return band;
  };
  const drawnOf = (each: LayerNow, layer: FlourishLayer): DrawnLayer['drawn'] | null => {
    if (layer.kind === 'mesh' && layer.mesh) return { kind: 'mesh', recipe: layer.mesh, place: each.place };
    if (layer.kind === 'ribbon' && layer.ribbon) return { kind: 'ribbon', band: bandFor(each, layer) };
    if (!layer.sprites) return null;
    const { along } = layer.sprites;
    if (along === undefined)
      return {
        kind: 'sprites',
        sprites: spritesNow(layer.sprites, each.shape, each.age, layerSize(layer, each.age)),
      };
    const on = now.find((other) => other.layer === along && other.slot === each.slot);
    const band = on && byId.get(along)?.ribbon ? bandFor(on, byId.get(along)!) : NO_STRIP;
    const bright = on && byId.get(along)?.ribbon ? brightnessOf(byId.get(along)!.ribbon!, on.shape) : 0;
    return { kind: 'sprites', sprites: sittingOn(layer, each, band, Math.min(bright * 2, 1)) };
  };
  return now.flatMap((each): DrawnLayer[] => {
    const layer = byId.get(each.layer);
    const drawn = layer && drawnOf(each, layer);
    if (!layer || layer.off || !drawn) return [];
    return [
      {
        ...{ key: `${each.layer} ${each.slot}`, material: layer.material, drawOrder: layer.drawOrder ?? 0 },
        ...{ age: each.age, seed: each.seed, values: each.values, drawn },
      },
    ];
  });
};

/** The ways that points went which ribbons have smoothed, tick by tick, to be seen beside them. */
export const rawTrails = (
  flourishes: readonly Flourish[],
  now: readonly LayerNow[],
): readonly (readonly Triple[])[] => {
  const byId = new Map(flourishes.flatMap(({ layers }) => layers).map((each) => [each.id, each]));
  return now.flatMap(({ layer, shape }) => {
    const ribbon = byId.get(layer)?.ribbon;
    const points = ribbon && !ribbon.raw ? rawTrail(ribbon, shape) : [];
    return points.length > 1 ? [points] : [];
  });
};
