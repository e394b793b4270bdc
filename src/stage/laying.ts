import { Ray, Vector3, type PerspectiveCamera } from 'three';
import type { OrbitControls } from 'three/addons/controls/OrbitControls.js';
import type { MeshRecipe } from '#core/meshes/makeMesh.ts';
import type { Mesh } from '#core/meshes/mesh.ts';
import type { PlacedProp } from './scene/props.ts';
import { reachBelow } from './reachBelow.ts';
import { surfaceUnder, type Met } from './surfaceUnder.ts';

/** Drags the prop that is pressed over what stands there: it is laid on whatever surface the pointer is over. */
export const createLaying = (
  camera: PerspectiveCamera,
  canvas: HTMLCanvasElement,
  orbit: OrbitControls,
  stands: {
    readonly all: () => readonly PlacedProp[];
    readonly meshFor: (recipe: MeshRecipe) => Mesh;
    /** Whether a prop can be laid, and whether it moves with the one that is. */
    readonly isMovable: (id: string) => boolean;
    readonly isCarriedBy: (prop: PlacedProp, carrier: PlacedProp) => boolean;
  },
  events: {
    readonly onBegun: (prop: PlacedProp) => void;
    /** Called with where its place is now, in the world. */
    readonly onLaid: (prop: PlacedProp, at: Vector3) => void;
    readonly onEnded: () => void;
  },
) => {
  let active = false;
  let held: PlacedProp | null = null;
  const rayAt = (event: PointerEvent): Ray => {
    const { left, top, width, height } = canvas.getBoundingClientRect();
    camera.updateMatrixWorld();
    const through = new Vector3(
      ((event.clientX - left) / width) * 2 - 1,
      1 - ((event.clientY - top) / height) * 2,
      0.5,
    ).unproject(camera);
    return new Ray(camera.position.clone(), through.sub(camera.position).normalize());
  };
  const under = (event: PointerEvent, skip: (prop: PlacedProp) => boolean): Met | null =>
    surfaceUnder(
      rayAt(event),
      stands.all().filter((each) => !skip(each)),
      stands.meshFor,
    );

  const onDown = (event: PointerEvent): void => {
    if (!active || event.button !== 0) return;
    const pressed = under(event, () => false);
    const prop = stands.all().find((each) => each.id === pressed?.id);
    if (!prop || !stands.isMovable(prop.id)) return;
    held = prop;
    orbit.enabled = false;
    canvas.setPointerCapture(event.pointerId);
    events.onBegun(prop);
  };
  const onMove = (event: PointerEvent): void => {
    const prop = held;
    if (!prop) return;
    const met = under(event, (each) => each === prop || stands.isCarriedBy(each, prop));
    if (met)
      events.onLaid(
        prop,
        met.point.addScaledVector(met.normal, reachBelow(prop, met.normal, stands.meshFor)),
      );
  };
  const onUp = (): void => {
    if (!held) return;
    held = null;
    orbit.enabled = true;
    events.onEnded();
  };
  // Before the camera's own controls hear of it.
  canvas.addEventListener('pointerdown', onDown, { capture: true });
  canvas.addEventListener('pointermove', onMove);
  canvas.addEventListener('pointerup', onUp);
  canvas.addEventListener('pointercancel', onUp);
  return {
    setActive: (is: boolean): void => {
      active = is;
    },
    dispose: (): void => {
      canvas.removeEventListener('pointerdown', onDown, { capture: true });
      canvas.removeEventListener('pointermove', onMove);
      canvas.removeEventListener('pointerup', onUp);
      canvas.removeEventListener('pointercancel', onUp);
    },
  };
};
