import { Ray, Vector3, type PerspectiveCamera } from 'three';
import type { OrbitControls } from 'three/addons/controls/OrbitControls.js';
import type { Mesh } from '#core/meshes/mesh.ts';
import { coarse, type MeshRecipe } from '#core/meshes/makeMesh.ts';
import { plus, times, type Triple } from '#core/numbers/vectors.ts';
import { TICK_SECONDS, ticksDue } from '#core/time/tick.ts';
import { WALKER, walkOn, type Cast, type Walker } from '#core/time/walk.ts';
import type { PlacedProp } from './scene/props.ts';
import { surfaceUnder } from './surfaceUnder.ts';

/** What is walked on need not be fine. */
const FEW = 24;
/** Metres a second, and in haste. */
const [PACE, HASTE] = [1.6, 3.4];
/** Radians that a pixel turns. */
const TURN = 0.0035;
/** Metres that a walker is followed by from behind and above, and what is kept free of what stands there. */
const [BEHIND, ABOVE, CLEAR] = [2.6, 0.25, 0.2];
/** Nearly upright: a look straight up has no way forward. */
const STEEPEST = 1.45;

const WAYS: Readonly<Record<string, readonly [forward: number, right: number]>> = {
  ...{ KeyW: [1, 0], ArrowUp: [1, 0], KeyS: [-1, 0], ArrowDown: [-1, 0] },
  ...{ KeyA: [0, -1], ArrowLeft: [0, -1], KeyD: [0, 1], ArrowRight: [0, 1] },
};

interface Around {
  readonly all: () => readonly PlacedProp[];
  readonly meshFor: (recipe: MeshRecipe) => Mesh;
  readonly invalidate: () => void;
  /** Where a figure is to be seen; null where none is. */
  readonly standIn: (feet: Triple | null) => void;
}

/** How the set is looked at: from round it, out of the walker’s eyes, or from behind the walker. */
export type Walking = false | 'eyes' | 'behind';

/** Looks out of the eyes of somebody who walks on what is solid, or from behind, in place of round the set. */
export const createWalk = (
  camera: PerspectiveCamera,
  canvas: HTMLCanvasElement,
  controls: OrbitControls,
  { all, meshFor, invalidate, standIn }: Around,
) => {
  let walker: Walker | null = null;
  let behind = false;
  let [yaw, pitch] = [0, 0];
  const held = new Set<string>();
  let frame = 0;
  let began = 0;
  let ticks = 0;

  const cast: Cast = (from, way) => {
    const ray = new Ray(new Vector3(...from), new Vector3(...way));
    const solid = all().filter((each) => each.solid);
    const met = surfaceUnder(ray, solid, (recipe) => meshFor(coarse(recipe, FEW)));
    if (!met) return null;
    return { distance: met.point.distanceTo(ray.origin), normal: met.normal.toArray() };
  };
  const eyesOf = ({ feet }: Walker): Triple => plus(feet, [0, 1, 0], WALKER.eyes);
  const aheadOf = (): Triple => [
    -Math.sin(yaw) * Math.cos(pitch),
    Math.sin(pitch),
    -Math.cos(yaw) * Math.cos(pitch),
  ];
  const place = (): void => {
    if (!walker) return;
    const eyes = eyesOf(walker);
    const ahead = aheadOf();
    camera.position.set(...eyes);
    if (behind) {
      const over = plus(eyes, [0, 1, 0], ABOVE);
      const met = cast(over, times(ahead, -1));
      camera.position.set(
        ...plus(over, ahead, -Math.max(Math.min(BEHIND, (met?.distance ?? Infinity) - CLEAR), 0)),
      );
    }
    controls.target.set(...plus(camera.position.toArray(), ahead));
    camera.lookAt(controls.target);
    standIn(behind ? walker.feet : null);
    invalidate();
  };
  const wish = (): Triple => {
    let [forward, right] = [0, 0];
    for (const code of held) {
      const way = WAYS[code];
      if (way) [forward, right] = [forward + way[0], right + way[1]];
    }
    const far = Math.hypot(forward, right);
    if (!far) return [0, 0, 0];
    const speed = (held.has('ShiftLeft') || held.has('ShiftRight') ? HASTE : PACE) / far;
    const [s, c] = [Math.sin(yaw), Math.cos(yaw)];
    return [(-s * forward + c * right) * speed, 0, (-c * forward - s * right) * speed];
  };
  /** The ticks up to now, with the keys that were held meanwhile. @returns whether it moved, and how many they were */
  const advance = (): { readonly moved: boolean; readonly due: number } => {
    if (!walker) return { moved: false, due: 0 };
    const { due, forgiven } = ticksDue(performance.now() - began, ticks);
    began += forgiven;
    const before = walker;
    for (let i = 0; i < due; i += 1) walker = walkOn(walker, wish(), TICK_SECONDS, cast);
    ticks += due;
    const moved = walker.feet.some((x, i) => x !== before.feet[i]);
    if (moved) place();
    return { moved, due };
  };
  /** Goes on while it walks or falls; nothing is asked of a walker who stands. */
  const go = (): void => {
    frame = 0;
    if (!walker) return;
    const { moved, due } = advance();
    if (moved || !due || held.size || walker.falls) frame = requestAnimationFrame(go);
  };
  const wake = (): void => {
    if (frame || !walker) return;
    [began, ticks] = [performance.now(), 0];
    frame = requestAnimationFrame(go);
  };
  const turn = (event: PointerEvent): void => {
    if (!walker || !(event.buttons & 1)) return;
    yaw -= event.movementX * TURN;
    pitch = Math.min(Math.max(pitch - event.movementY * TURN, -STEEPEST), STEEPEST);
    place();
  };
  canvas.addEventListener('pointermove', turn);

  const stop = (): void => {
    walker = null;
    standIn(null);
    held.clear();
    cancelAnimationFrame(frame);
    frame = 0;
    controls.enabled = true;
    controls.update();
  };
  return {
    get isOn() {
      return walker !== null;
    },
    /** Where the walker's eyes are, and which way they look; null where nobody walks. */
    seen: (): { readonly position: Triple; readonly target: Triple } | null => {
      if (!walker) return null;
      const position = eyesOf(walker);
      return { position, target: plus(position, aheadOf()) };
    },
    /** Puts the walker where the camera is, on what is below it; back to turning round the set otherwise. */
    set: (how: Walking): void => {
      const was = behind;
      behind = how === 'behind';
      if ((how !== false) === (walker !== null)) {
        if (behind !== was) place();
        return;
      }
      if (how === false) {
        // What was looked at last is turned round, a little further off than an eye’s length.
        const ahead = camera.getWorldDirection(new Vector3());
        stop();
        controls.target.copy(camera.position).addScaledVector(ahead, 3);
        controls.update();
        invalidate();
        return;
      }
      controls.enabled = false;
      const { x, y, z } = camera.position;
      const ahead = camera.getWorldDirection(new Vector3());
      yaw = Math.atan2(-ahead.x, -ahead.z);
      pitch = Math.min(Math.max(Math.asin(ahead.y), -STEEPEST), STEEPEST);
      const floor = cast([x, y, z], [0, -1, 0]);
      walker = { feet: [x, floor ? y - floor.distance : Math.max(y - WALKER.eyes, 0), z], falls: 0 };
      place();
    },
    /** @param code null lets go of all. @returns whether the walker has a use for the key */
    key: (code: string | null, down: boolean): boolean => {
      if (code === null) held.clear();
      if (code === null || !walker) return false;
      // A key counts from when it is pressed, not from the frame that comes after it.
      if (frame) advance();
      if (!(code in WAYS || code.startsWith('Shift'))) return false;
      if (down) held.add(code);
      else held.delete(code);
      wake();
      return code in WAYS;
    },
    /** What it stood on is another now: it stands again, or falls. */
    wake,
    dispose: (): void => {
      canvas.removeEventListener('pointermove', turn);
      stop();
    },
  };
};
