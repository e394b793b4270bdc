import type { RehearsalSetup } from '#core/time/rehearse.ts';
import type { RehearsedMaterial } from './protocol.ts';

/** What a rehearsal begins from: a set, and the materials in it by their ids. */
export const setupOf = (
  set: RehearsalSetup['set'],
  materials: readonly RehearsedMaterial[],
): RehearsalSetup => {
  const byId = new Map(materials.map((each) => [each.id, each]));
  return {
    set,
    parametersOf: (material) => byId.get(material)?.declared ?? null,
    authored: (material, name) => {
      const own = byId.get(material);
      return own?.parameters.find((each) => each.name === name)?.value ?? own?.others?.[name] ?? [];
    },
  };
};
