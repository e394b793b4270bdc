import type { ParameterValue } from '#core/document/shader.ts';
import { drawnLayers } from '#core/time/drawnLayers.ts';
import type { LayerNow } from '#core/time/playFlourishes.ts';
import { numbersFor } from '#core/time/values.ts';
import type { StageLayer } from '#stage/scene/layers.ts';
import type { Session } from '../state/session.svelte.ts';

/** What a material's parameters are driven to, by name. */
export type DrivenOf = (material: string) => ReadonlyMap<string, { readonly value: ParameterValue }>;

/** What the stage shows of flourishes: each layer with all its material's parameters, its own over what drives those. */
export const layersOn = (
  session: Session,
  now: readonly LayerNow[],
  drivenOf: DrivenOf = session.values.of,
): readonly StageLayer[] => {
  if (!now.length) return [];
  return drawnLayers(session.stage?.body.flourishes ?? [], now).flatMap((layer): StageLayer[] => {
    const material = session.part(layer.material);
    const shader = material?.kind === 'material' ? session.part(material.body.shader) : null;
    if (material?.kind !== 'material' || shader?.kind !== 'shader') return [];
    const driven = new Map([
      ...drivenOf(material.id),
      ...[...layer.values].map(([name, value]) => [name, { value }] as const),
    ]);
    return [
      {
        ...layer,
        parameters: numbersFor(shader.body.parameters, session.authored(material.body.values), driven),
      },
    ];
  });
};
