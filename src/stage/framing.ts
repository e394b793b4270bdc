import { Box3, Vector3, type PerspectiveCamera } from 'three';
import type { OrbitControls } from 'three/addons/controls/OrbitControls.js';
import type { PlacedProp } from './scene/props.ts';
import { worldMatrixOf } from './scene/worldMatrix.ts';
import type { Seen } from './stage.ts';

/** How much of the picture’s height what is framed fills at most. */
const FILLS = 0.8;

/** Where a camera stands to have some props in its picture, or all where none is named, seen from the same side as now. */
const framed = (
  props: readonly PlacedProp[],
  ids: readonly string[],
  camera: PerspectiveCamera,
  target: Vector3,
): Seen => {
  const box = new Box3();
  for (const each of props) {
    if (ids.length ? !ids.includes(each.id) : each.hidden) continue;
    // What it stands on may have moved since the last frame.
    worldMatrixOf(each.object);
    box.expandByObject(each.object);
  }
  if (box.isEmpty()) return { position: camera.position.toArray(), target: target.toArray() };
  const middle = box.getCenter(new Vector3());
  const radius = Math.max(box.getSize(new Vector3()).length() / 2, 0.05);
  const half = (camera.fov * Math.PI) / 360;
  const across = Math.atan(Math.tan(half) * Math.min(camera.aspect, 1));
  const away = radius / FILLS / Math.sin(across);
  const way = camera.position.clone().sub(target).normalize();
  return { position: middle.clone().addScaledVector(way, away).toArray(), target: middle.toArray() };
};

/** Turns the camera to props once all of them stand there: a program may still be linked, a mesh be on its way. */
export const createFraming = (
  camera: PerspectiveCamera,
  controls: OrbitControls,
  stands: {
    readonly all: () => readonly PlacedProp[];
    readonly isInSet: (id: string) => boolean;
    /** Whether a mesh is on its way. */
    readonly isComing: () => boolean;
    readonly look: (seen: Seen) => void;
  },
) => {
  let asked: readonly string[] | null = null;
  const settle = (): void => {
    if (!asked) return;
    const props = stands.all();
    const isMissing = (id: string): boolean => stands.isInSet(id) && !props.some((each) => each.id === id);
    if (asked.some(isMissing) || (asked.length && stands.isComing())) return;
    stands.look(framed(props, asked, camera, controls.target));
    asked = null;
  };
  // Who turns the camera meanwhile has another wish.
  controls.addEventListener('start', () => (asked = null));
  return {
    ask: (ids: readonly string[]): void => {
      asked = ids;
      settle();
    },
    /** Called when more stands there than before. */
    settle,
  };
};
