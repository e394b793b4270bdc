import type { ParameterValue } from '../document/shader.ts';

/**
 * Who may drive a value over what is authored, weakest first: standing rules of the set, a running cue, the script, the
 * author's hand while it holds.
 */
export const DRIVERS = ['set', 'cue', 'script', 'hand'] as const;
export type Driver = (typeof DRIVERS)[number];

/** What one of them drives now, by material and then by parameter. */
export type Layer = ReadonlyMap<string, ReadonlyMap<string, ParameterValue>>;
export type Layers = Readonly<Partial<Record<Driver, Layer>>>;

/** A value driven now, and by whom. */
export interface Drive {
  readonly value: ParameterValue;
  readonly by: Driver;
}

/** What is driven now, by material and then by parameter: of several the strongest. */
export const resolveValues = (layers: Layers): ReadonlyMap<string, ReadonlyMap<string, Drive>> => {
  const resolved = new Map<string, Map<string, Drive>>();
  for (const by of DRIVERS)
    for (const [material, values] of layers[by] ?? []) {
      const own = resolved.get(material) ?? new Map<string, Drive>();
      resolved.set(material, own);
      for (const [name, value] of values) own.set(name, { value, by });
    }
  return resolved;
};
