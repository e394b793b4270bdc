import {
  after,
  affineOf,
  inverse,
  placingOf,
  wayBy,
  type Affine,
  type Placed,
  type Placing,
} from '../numbers/placement.ts';

interface Standing extends Placing {
  readonly id: string;
  readonly parent?: string | undefined;
  /** The joint of its parent that it hangs on, as it stands in its parent’s space. */
  readonly joint?: { readonly rest: Affine } | undefined;
}

/** The map from a prop’s own space to that of what it stands on. */
const ownMap = (prop: Standing): Affine =>
  prop.joint ? after(prop.joint.rest, affineOf(prop)) : affineOf(prop);

/** The ids from a prop's parent outwards; ends where a circle would close. */
export const parentsOf = (props: readonly Standing[], id: string): readonly string[] => {
  const byId = new Map(props.map((each) => [each.id, each]));
  const found: string[] = [];
  let at = byId.get(id)?.parent;
  while (at !== undefined && byId.has(at) && !found.includes(at)) {
    found.push(at);
    at = byId.get(at)!.parent;
  }
  return found;
};

/** The map from a prop's own space to the world's, through all it stands on. */
export const worldOf = (props: readonly Standing[], id: string): Affine => {
  const byId = new Map(props.map((each) => [each.id, each]));
  return parentsOf(props, id).reduce(
    (inner, parent) => after(ownMap(byId.get(parent)!), inner),
    ownMap(byId.get(id)!),
  );
};

/** A way in the world, as it is in the space that a prop's place is told in. */
export const wayOn = (
  props: readonly Standing[],
  id: string,
  way: Placing['position'],
): Placing['position'] => {
  const [parent] = parentsOf(props, id);
  const joint = props.find((each) => each.id === id)?.joint;
  const under = parent === undefined ? null : worldOf(props, parent);
  const back = under && inverse(joint ? after(under, joint.rest) : under);
  if (!back) return way;
  return wayBy(back, way);
};

/** Where a prop has to stand on a parent, on a joint of it, or in the world, so that it stays where it is. */
export const keptPlace = (
  props: readonly Standing[],
  id: string,
  parent: string | undefined,
  joint?: { readonly rest: Affine },
): Placed => {
  const world = worldOf(props, id);
  const under = parent === undefined ? null : worldOf(props, parent);
  const back = under && inverse(joint ? after(under, joint.rest) : under);
  return placingOf(back ? after(back, world) : world);
};
