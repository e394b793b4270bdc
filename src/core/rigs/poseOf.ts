import { after, type Affine } from '../numbers/placement.ts';
import type { Channel, ClipsNow, Pose, Rig, RigNode, RigPath } from './rig.ts';

const unit = (q: readonly number[]): readonly number[] => {
  const size = Math.hypot(...q);
  return size > 0 ? q.map((x) => x / size) : [0, 0, 0, 1];
};

/** The shorter way round between two turns, at an even pace (K. Shoemake, 1985). */
const turned = (a: readonly number[], b: readonly number[], t: number): readonly number[] => {
  const cos = a.reduce((sum, x, i) => sum + x * b[i]!, 0);
  const to = cos < 0 ? b.map((x) => -x) : b;
  const near = Math.min(Math.abs(cos), 1);
  // So close together that a straight way is as good.
  if (near > 0.9995) return unit(a.map((x, i) => x * (1 - t) + to[i]! * t));
  const angle = Math.acos(near);
  const [p, q] = [Math.sin((1 - t) * angle) / Math.sin(angle), Math.sin(t * angle) / Math.sin(angle)];
  return a.map((x, i) => x * p + to[i]! * q);
};

/** What a channel stands at, so many seconds into its clip, as glTF 2.0 tells (appendix C); level beyond its ends. */
export const channelAt = (
  { path, mode, times, values }: Channel,
  size: number,
  seconds: number,
): readonly number[] => {
  const stride = mode === 'CUBICSPLINE' ? 3 * size : size;
  const value = (i: number, part = mode === 'CUBICSPLINE' ? 1 : 0): readonly number[] =>
    Array.from(values.subarray(i * stride + part * size, i * stride + (part + 1) * size));
  const last = times.length - 1;
  if (seconds <= times[0]!) return value(0);
  if (seconds >= times[last]!) return value(last);
  let [low, high] = [0, last];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (times[middle]! <= seconds) low = middle;
    else high = middle;
  }
  if (mode === 'STEP') return value(low);
  const gap = times[high]! - times[low]!;
  const t = (seconds - times[low]!) / gap;
  if (mode === 'LINEAR')
    return path === 'rotation'
      ? turned(value(low), value(high), t)
      : value(low).map((x, i) => x * (1 - t) + value(high)[i]! * t);
  const [from, out, to, into] = [value(low), value(low, 2), value(high), value(high, 0)];
  const [t2, t3] = [t * t, t * t * t];
  const made = from.map(
    (x, i) =>
      (2 * t3 - 3 * t2 + 1) * x +
      gap * (t3 - 2 * t2 + t) * out[i]! +
      (3 * t2 - 2 * t3) * to[i]! +
      gap * (t3 - t2) * into[i]!,
  );
  return path === 'rotation' ? unit(made) : made;
};

/** The map of a translation, a unit quaternion and sizes. */
const affineBy = (
  [x, y, z]: readonly number[],
  [a, b, c, d]: readonly number[],
  scale: readonly number[],
): Affine => {
  const [i, j, k, w] = [a!, b!, c!, d!];
  const columns = [
    [1 - 2 * (j * j + k * k), 2 * (i * j + k * w), 2 * (i * k - j * w)],
    [2 * (i * j - k * w), 1 - 2 * (i * i + k * k), 2 * (j * k + i * w)],
    [2 * (i * k + j * w), 2 * (j * k - i * w), 1 - 2 * (i * i + j * j)],
  ];
  return [...columns.flatMap((column, n) => column.map((each) => each * scale[n]!)), x!, y!, z!];
};

/**
 * How a rig stands with clips at their times. Where their weights come to less than 1, the rest of the way is how it
 * stands by itself; where they come to more, each counts for its share.
 */
export const poseOf = (rig: Rig, clips: ClipsNow = {}): Pose => {
  const played = Object.entries(clips).flatMap(([place, [seconds, weight]]) => {
    const clip = rig.clips[Number(place)];
    return clip && weight > 0 ? [{ clip, seconds, weight }] : [];
  });
  const sum = played.reduce((all, { weight }) => all + weight, 0);
  const shares = played.map((each) => ({ ...each, share: each.weight / Math.max(sum, 1) }));
  const rests = 1 - Math.min(sum, 1);
  const mixed = (node: number, path: RigPath, rest: readonly number[]): readonly number[] => {
    const moves = shares.flatMap(({ clip, seconds, share }) => {
      const channel = clip.channels.find((each) => each.node === node && each.path === path);
      return channel ? [{ value: channelAt(channel, rest.length, seconds), share }] : [];
    });
    if (!moves.length) return rest;
    // A clip that does not move it has it at rest.
    const still = Math.max(rests, 1 - moves.reduce((all, { share }) => all + share, 0));
    const made = rest.map((x) => x * still);
    for (const { value, share } of moves) {
      // Two quaternions are one turn: the one on the side of how it rests is mixed.
      const side = path === 'rotation' && value.reduce((all, x, i) => all + x * rest[i]!, 0) < 0 ? -1 : 1;
      value.forEach((x, i) => (made[i]! += x * share * side));
    }
    return path === 'rotation' ? unit(made) : made;
  };
  const nodes: Affine[] = [];
  rig.nodes.forEach((node: RigNode, i) => {
    const own = affineBy(
      mixed(i, 'translation', node.translation),
      mixed(i, 'rotation', node.rotation),
      mixed(i, 'scale', node.scale),
    );
    nodes.push(node.parent < 0 ? own : after(nodes[node.parent]!, own));
  });
  return { nodes, weights: mixed(-1, 'weights', rig.weights) };
};

/** Where a joint stands in its model’s space, by its name; null where there is none. */
export const jointAt = (rig: Rig, name: string, clips?: ClipsNow): Affine | null => {
  const at = rig.nodes.findIndex((each) => each.name === name);
  return at < 0 ? null : poseOf(rig, clips).nodes[at]!;
};
