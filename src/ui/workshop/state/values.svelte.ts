import type { Part, PartOf } from '#core/document/project.ts';
import type { ParameterValue } from '#core/document/shader.ts';
import { resolveValues, type Drive, type Driver, type Layers } from '#core/time/resolveValues.ts';

/** A parameter of a material, and what it is to stand at. */
export interface Write {
  readonly material: string;
  readonly parameter: string;
  readonly value: ParameterValue;
}

const NOTHING: ReadonlyMap<string, Drive> = new Map();

/** What is driven now over what is authored. The one answer that stage, panel, pictures and plots read. */
export const createValues = (
  materials: () => readonly PartOf<'material'>[],
  part: (id: string) => Part | undefined,
) => {
  let layers = $state.raw<Layers>({});
  const driven = $derived(resolveValues(layers));

  const isShared = (material: string, parameter: string): boolean => {
    const own = part(material);
    const shader = own?.kind === 'material' ? part(own.body.shader) : undefined;
    return (
      shader?.kind === 'shader' &&
      shader.body.parameters.some((each) => each.name === parameter && each.scope === 'shared')
    );
  };
  /** The materials a write reaches: a shared parameter's is every one whose shader names it. */
  const reached = (material: string, parameter: string): readonly string[] =>
    isShared(material, parameter)
      ? materials().flatMap(({ id }) => (isShared(id, parameter) ? [id] : []))
      : [material];

  /** Writes by the materials they reach. */
  const gathered = (writes: readonly Write[]) => {
    const layer = new Map<string, Map<string, ParameterValue>>();
    for (const { material, parameter, value } of writes)
      for (const id of reached(material, parameter)) {
        const own = layer.get(id) ?? new Map<string, ParameterValue>();
        layer.set(id, own.set(parameter, value));
      }
    return layer;
  };

  return {
    /** What a material's parameters are driven to, and by whom. */
    of: (material: string): ReadonlyMap<string, Drive> => driven.get(material) ?? NOTHING,
    get driven() {
      return driven;
    },
    /** What the author’s hand holds, over what drives it. */
    get held() {
      return layers.hand;
    },
    isShared,
    /** Drives values on behalf of one of the drivers; they stay until it is cleared. */
    drive: (by: Driver, writes: readonly Write[]): void => {
      if (!writes.length) return;
      const layer = new Map(layers[by]);
      for (const { material, parameter, value } of writes)
        for (const id of reached(material, parameter))
          layer.set(id, new Map(layer.get(id)).set(parameter, value));
      layers = { ...layers, [by]: layer };
    },
    /** All that one of the drivers drives now; what it drove before and does not any more is let go. */
    put: (by: Driver, writes: readonly Write[]): void => {
      if (!writes.length && !layers[by]) return;
      layers = { ...layers, [by]: writes.length ? gathered(writes) : undefined };
    },
    /** What materials' parameters would be driven to by these writes alone. */
    asDriven: (writes: readonly Write[]): ((material: string) => ReadonlyMap<string, Drive>) => {
      const alone = resolveValues({ script: gathered(writes) });
      return (material) => alone.get(material) ?? NOTHING;
    },
    clear: (...drivers: readonly Driver[]): void => {
      if (drivers.some((by) => layers[by]))
        layers = { ...layers, ...Object.fromEntries(drivers.map((by) => [by, undefined])) };
    },
  };
};

export type Values = ReturnType<typeof createValues>;
