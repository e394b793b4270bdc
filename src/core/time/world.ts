import { worldOf } from '../document/parents.ts';
import type { Prop } from '../document/project.ts';
import { jointAt } from '../rigs/poseOf.ts';
import { rigOf, type ClipsNow } from '../rigs/rig.ts';
import { affineOf, inverse, pointBy, wayBy } from '../numbers/placement.ts';
import type { Triple } from '../numbers/vectors.ts';
import type { Hit } from './inputs.ts';

/** How a prop stands otherwise than it is authored. */
export interface MovedProp {
  readonly position?: Triple;
  readonly rotation?: Triple;
  readonly scale?: Triple;
  readonly hidden?: boolean;
  /** How the clips of its mesh stand. */
  readonly clips?: ClipsNow;
}

/** A prop of a mesh that clips move, as they have it. */
const posed = (prop: Prop, { clips, ...moved }: MovedProp): Prop => ({
  ...prop,
  ...moved,
  ...(clips && prop.mesh.kind === 'imported' ? { mesh: { ...prop.mesh, pose: clips } } : {}),
});

/** A prop that hangs on a joint, as that stands now. */
const hung = (prop: Prop, carrier: Prop | undefined): Prop => {
  if (!prop.joint || carrier?.mesh.kind !== 'imported' || !carrier.mesh.pose) return prop;
  const rig = rigOf(carrier.mesh.blob);
  const rest = rig && jointAt(rig, prop.joint.name, carrier.mesh.pose);
  return rest ? { ...prop, joint: { ...prop.joint, rest } } : prop;
};

/** Props as they stand now. The same ones where none is moved. */
export const propsNow = (props: readonly Prop[], moved: ReadonlyMap<string, MovedProp>): readonly Prop[] => {
  if (!moved.size) return props;
  const now = props.map((prop) => (moved.has(prop.id) ? posed(prop, moved.get(prop.id)!) : prop));
  return now.map((prop) => hung(prop, prop.joint && now.find(({ id }) => id === prop.parent)));
};

/** Where the things of a set are in a tick. */
export interface World {
  readonly props: readonly Prop[];
  readonly pointer: Hit | null;
  readonly walker: { readonly position: Triple; readonly direction: Triple } | null;
}

/** A point told in a prop's own space, in the world; null where there is no such prop. */
export const pointOn = ({ props }: World, id: string, point: Triple): Triple | null => {
  if (!props.some((each) => each.id === id)) return null;
  return pointBy(worldOf(props, id), point);
};

/** Where something of the set is in the world: a prop by its id, “pointer” or “walker”; null where it is nowhere. */
export const whereIs = (world: World, what: string | undefined): Triple | null =>
  what === undefined
    ? null
    : what === 'pointer'
      ? (world.pointer?.point ?? null)
      : what === 'walker'
        ? (world.walker?.position ?? null)
        : pointOn(world, what, [0, 0, 0]);

/** Metres between two things of the set; null where one of them is nowhere. */
export const between = (world: World, of: string | undefined, to: string | undefined): number | null => {
  const [a, b] = [whereIs(world, of), whereIs(world, to)];
  return a && b ? Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]) : null;
};

/** Metres from a thing of the set to the box about another; 0 inside of it. Exact where what it stands on is not sheared. */
const outside = (
  world: World,
  of: string | undefined,
  to: string | undefined,
  box: Triple,
): number | null => {
  const [a, b] = [whereIs(world, of), whereIs(world, to)];
  if (!a || !b) return null;
  const isProp = to !== undefined && world.props.some(({ id }) => id === to);
  const map = isProp ? worldOf(world.props, to) : affineOf({ position: b, rotation: [0, 0, 0] });
  const back = inverse(map);
  if (!back) return Infinity;
  const beyond = pointBy(back, a).map(
    (x, i) => Math.sign(x) * Math.max(Math.abs(x) - box[i]! / 2, 0),
  ) as unknown as Triple;
  return Math.hypot(...wayBy(map, beyond));
};

/** Whether two things of the set are as near as a start or a rule asks; not where one of them is nowhere. */
export const isNear = (
  world: World,
  {
    of,
    to,
    within,
    box,
  }: { readonly of?: string; readonly to?: string; readonly within?: number; readonly box?: Triple },
): boolean => {
  const away = box ? outside(world, of, to, box) : between(world, of, to);
  return away !== null && away <= (within ?? (box ? 0 : 1));
};
