import { worldOf } from '#core/document/parents.ts';
import type { StageDocument } from '#core/document/project.ts';
import type { Triple } from '#core/numbers/vectors.ts';
import type { PinSeen } from '#stage/stage.ts';

/** A place of the set that distances are told to. */
export interface NamedPlace {
  readonly key: string;
  readonly name: string;
  readonly at: Triple;
}

/** What distances from a pin are told to: other pins where they are now, lights at a point, and the places of other props. */
export const placesNear = (
  set: StageDocument,
  from: { readonly pin: string | null; readonly prop: string },
  seen: ReadonlyMap<string, PinSeen | null>,
): readonly NamedPlace[] => [
  ...(set.pins ?? []).flatMap(({ id, name }): NamedPlace[] => {
    const there = id === from.pin ? null : seen.get(id);
    return there && there.why === undefined ? [{ key: `pin ${id}`, name, at: there.place.position }] : [];
  }),
  ...set.lights.flatMap((light, i): NamedPlace[] =>
    light.kind === 'point'
      ? [
          {
            key: `light ${i}`,
            name: set.lights.length > 1 ? `light ${i + 1}` : 'the light',
            at: light.position,
          },
        ]
      : [],
  ),
  ...set.props.flatMap(({ id, name }): NamedPlace[] =>
    id === from.prop
      ? []
      : [{ key: `prop ${id}`, name, at: worldOf(set.props, id).slice(9) as unknown as Triple }],
  ),
];
