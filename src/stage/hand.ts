import {
  BoxHelper,
  BufferGeometry,
  CanvasTexture,
  Float32BufferAttribute,
  Group,
  Line,
  LineBasicMaterial,
  Points,
  PointsMaterial,
  Quaternion,
  Scene,
  Sprite,
  SpriteMaterial,
  Vector3,
  type Camera,
  type Object3D,
  type PerspectiveCamera,
  type WebGLRenderer,
} from 'three';
import type { OrbitControls } from 'three/addons/controls/OrbitControls.js';
import { TransformControls } from 'three/addons/controls/TransformControls.js';
import type { MeshRecipe } from '#core/meshes/makeMesh.ts';
import type { Mesh } from '#core/meshes/mesh.ts';
import { createLaying } from './laying.ts';
import type { PlacedProp } from './scene/props.ts';
import type { Hand, Place } from './stage.ts';

/** The stage’s own colours: white, and limelight for what is held. */
const WHITE = 0xf2f2f2;
const LIMELIGHT = 0xcfe04a;
const MODES = { move: 'translate', turn: 'rotate', scale: 'scale', lay: 'translate' } as const;
/** What snapping rounds to: metres, degrees, and the share of a size. */
const SNAPS = { metres: 0.25, degrees: 15, share: 0.1 };
const DEGREES = 180 / Math.PI;
/** A tenth of a millimetre and a thousandth of a degree: what is dragged reads as a number. */
const rounded = (x: number, to: number): number => Math.round(x * to) / to;

/** An axis’s letter beside its end: axes are told by letters, not by colours. */
const letter = (text: string): Sprite => {
  const canvas = document.createElement('canvas');
  canvas.width = canvas.height = 64;
  const pen = canvas.getContext('2d')!;
  pen.font = '600 46px sans-serif';
  pen.textAlign = 'center';
  pen.textBaseline = 'middle';
  pen.lineWidth = 8;
  pen.strokeStyle = '#111';
  pen.strokeText(text, 32, 34);
  pen.fillStyle = '#f2f2f2';
  pen.fillText(text, 32, 34);
  const map = new CanvasTexture(canvas);
  return new Sprite(new SpriteMaterial({ map, depthTest: false, depthWrite: false, toneMapped: false }));
};

const placeOf = (prop: PlacedProp): Place => {
  const { position, rotation, scale } = prop.node;
  return {
    id: prop.id,
    position: [rounded(position.x, 1e4), rounded(position.y, 1e4), rounded(position.z, 1e4)],
    rotation: [
      rounded(rotation.x * DEGREES, 1e3),
      rounded(rotation.y * DEGREES, 1e3),
      rounded(rotation.z * DEGREES, 1e3),
    ],
    scale: [
      Math.max(rounded(scale.x, 1e4), 1e-3),
      Math.max(rounded(scale.y, 1e4), 1e-3),
      Math.max(rounded(scale.z, 1e4), 1e-3),
    ],
  };
};

interface HandEvents {
  /** Props were dragged to other places; the last of a drag says so. */
  readonly onPlaced: (places: readonly Place[]) => void;
  readonly onSettled: () => void;
  readonly invalidate: () => void;
}

/** A prop that goes along with the one that is dragged. */
interface Beside {
  readonly id: string;
  /** From its place to this one's, and how this one is turned, as it is turned itself. */
  readonly away: Vector3;
  readonly turn: Quaternion;
  readonly scale: Vector3;
}

/** Lines with a dot at each of their points, over all that is drawn. */
const createLines = (scene: Scene) => {
  const over = { depthTest: false, transparent: true, toneMapped: false } as const;
  const stroke = new LineBasicMaterial({ ...over, color: WHITE, opacity: 0.6 });
  const dot = new PointsMaterial({ ...over, color: WHITE, size: 4, sizeAttenuation: false });
  const group = new Group();
  scene.add(group);
  const clear = (): void => {
    for (const each of [...group.children]) {
      group.remove(each);
      // A line and its dots share what they are made of.
      (each as Line).geometry.dispose();
    }
  };
  return {
    set: (lines: Hand['lines'] = []): void => {
      clear();
      for (const points of lines) {
        const geometry = new BufferGeometry();
        geometry.setAttribute('position', new Float32BufferAttribute(points.flat(), 3));
        group.add(new Line(geometry, stroke), new Points(geometry, dot));
      }
    },
    dispose: (): void => {
      clear();
      stroke.dispose();
      dot.dispose();
    },
  };
};

/** What is in hand on the stage: its outlines, and the handles that move, turn and scale the last of it. */
export const createHand = (
  camera: PerspectiveCamera,
  canvas: HTMLCanvasElement,
  orbit: OrbitControls,
  stands: { readonly all: () => readonly PlacedProp[]; readonly meshFor: (recipe: MeshRecipe) => Mesh },
  events: HandEvents,
) => {
  const scene = new Scene();
  const controls = new TransformControls(camera, canvas);
  controls.setColors(WHITE, WHITE, WHITE, LIMELIGHT);
  controls.setSize(0.75);
  const letters = new Group();
  const ends = (['x', 'y', 'z'] as const).map((axis, i) => {
    const sprite = letter(axis);
    letters.add(sprite);
    return { sprite, way: new Vector3().setComponent(i, 1) };
  });
  scene.add(controls.getHelper(), letters);
  const lines = createLines(scene);
  const outlines = new Map<string, BoxHelper>();
  let hand: Hand = { ids: [], mode: 'move', snap: false };
  /** The one that is dragged as it stood, and each other prop in hand, seen from there. */
  let began: {
    readonly held: PlacedProp;
    readonly scale: Vector3;
    readonly beside: readonly Beside[];
  } | null = null;

  const propOf = (id: string) => stands.all().find((each) => each.id === id);
  const holder = () => propOf(hand.ids.at(-1) ?? '');
  /** Whether it stands on something that is moved with the hand too, and goes with that. */
  const isCarried = (prop: PlacedProp): boolean => {
    const others = new Set<Object3D>(
      hand.ids.flatMap((id) => (propOf(id)?.locked ? [] : (propOf(id)?.node ?? []))),
    );
    let found = false;
    prop.node.traverseAncestors((each) => (found ||= others.has(each)));
    return found;
  };
  const begin = (held: PlacedProp): void => {
    const at = held.node.getWorldPosition(new Vector3());
    const back = held.node.getWorldQuaternion(new Quaternion()).invert();
    const beside = hand.ids.flatMap((id): Beside[] => {
      const prop = propOf(id);
      if (!prop || prop === held || prop.locked || isCarried(prop)) return [];
      const away = prop.node.getWorldPosition(new Vector3()).sub(at).applyQuaternion(back);
      const turn = prop.node.getWorldQuaternion(new Quaternion()).premultiply(back);
      return [{ id, away, turn, scale: prop.node.scale.clone() }];
    });
    began = { held, scale: held.node.scale.clone(), beside };
  };
  /** Moves, turns and scales the others as the one that is dragged: about its place, and along its axes. */
  const bringAlong = (): void => {
    if (!began) return;
    const { held, scale, beside } = began;
    held.node.updateMatrix();
    const grown = held.node.scale.clone().divide(scale);
    const at = held.node.getWorldPosition(new Vector3());
    const turned = held.node.getWorldQuaternion(new Quaternion());
    const others = beside.flatMap(({ id, away, turn, scale: own }) => {
      const prop = propOf(id);
      if (!prop) return [];
      const { node } = prop;
      const to = away.clone().multiply(grown).applyQuaternion(turned).add(at);
      node.position.copy(node.parent!.worldToLocal(to));
      const under = node.parent!.getWorldQuaternion(new Quaternion()).invert();
      node.quaternion.copy(under.multiply(turned).multiply(turn));
      node.scale.copy(own).multiply(grown);
      node.updateMatrix();
      return [placeOf(prop)];
    });
    events.onPlaced([placeOf(held), ...others]);
  };
  const end = (): void => {
    began = null;
    events.onSettled();
  };
  controls.addEventListener('change', events.invalidate);
  controls.addEventListener('dragging-changed', ({ value }) => {
    const held = holder();
    orbit.enabled = !value;
    if (value && held) begin(held);
    else end();
  });
  controls.addEventListener('objectChange', bringAlong);
  const inHand = (id: string): boolean => {
    const prop = propOf(id);
    return hand.ids.includes(id) && prop !== undefined && !prop.locked && !prop.hidden;
  };
  const laying = createLaying(
    ...([camera, canvas, orbit] as const),
    {
      ...stands,
      isMovable: (id) => inHand(id) && !isCarried(propOf(id)!),
      // Nothing is laid on what moves with it.
      isCarriedBy: (each, carrier) => {
        let found = hand.ids.includes(each.id);
        each.node.traverseAncestors((one) => (found ||= one === carrier.node));
        return found;
      },
    },
    {
      onBegun: begin,
      onLaid: (prop, at) => {
        prop.node.position.copy(prop.node.parent!.worldToLocal(at));
        if (hand.snap)
          for (const axis of ['x', 'z'] as const)
            prop.node.position[axis] = Math.round(prop.node.position[axis] / SNAPS.metres) * SNAPS.metres;
        bringAlong();
        events.invalidate();
      },
      onEnded: end,
    },
  );

  const follow = (): void => {
    const held = holder();
    const movable = held && !held.locked && !held.hidden && hand.mode !== 'lay';
    if (movable && controls.object !== held.node) controls.attach(held.node);
    else if (!movable) controls.detach();
    letters.visible = Boolean(movable);
    for (const [id, outline] of outlines)
      if (!hand.ids.includes(id) || outline.object !== propOf(id)?.object) {
        scene.remove(outline);
        outline.dispose();
        outlines.delete(id);
      }
    for (const id of hand.ids) {
      const prop = propOf(id);
      if (!prop || outlines.has(id)) continue;
      const outline = new BoxHelper(prop.object, id === held?.id ? LIMELIGHT : WHITE);
      Object.assign(outline.material, {
        depthTest: false,
        transparent: true,
        opacity: 0.8,
        toneMapped: false,
      });
      outlines.set(id, outline);
      scene.add(outline);
    }
  };
  const placeLetters = (): void => {
    const at = controls.object?.getWorldPosition(new Vector3());
    if (!at) return;
    // As the handles themselves are sized: the same on the screen however far they are.
    const size =
      (at.distanceTo(camera.position) * Math.min(1.9 * Math.tan((camera.fov * Math.PI) / 360), 7)) / 4;
    const turned = controls.mode === 'scale' ? controls.object!.getWorldQuaternion(new Quaternion()) : null;
    for (const { sprite, way } of ends) {
      const out = way.clone();
      if (turned) out.applyQuaternion(turned);
      sprite.position.copy(at).addScaledVector(out, size * 0.75 * 0.68);
      sprite.scale.setScalar(size * 0.13);
    }
  };

  return {
    get isDragging() {
      return began !== null;
    },
    /** Whether the pointer is on a handle. */
    get isHeld() {
      return controls.axis !== null;
    },
    set: (wanted: Hand): void => {
      if (wanted.lines !== hand.lines) lines.set(wanted.lines);
      hand = wanted;
      controls.setMode(MODES[wanted.mode]);
      laying.setActive(wanted.mode === 'lay' && wanted.ids.length > 0);
      controls.setTranslationSnap(wanted.snap ? SNAPS.metres : null);
      controls.setRotationSnap(wanted.snap ? SNAPS.degrees / DEGREES : null);
      controls.setScaleSnap(wanted.snap ? SNAPS.share : null);
      follow();
      events.invalidate();
    },
    /** Follows the props after the set has changed. */
    follow,
    /** Draws over the finished picture, onto the canvas. */
    draw: (renderer: WebGLRenderer, seen: Camera): void => {
      if (!hand.ids.length && !hand.lines?.length) return;
      placeLetters();
      for (const outline of outlines.values()) outline.update();
      renderer.setRenderTarget(null);
      renderer.render(scene, seen);
    },
    dispose: (): void => {
      laying.dispose();
      lines.dispose();
      controls.detach();
      controls.dispose();
      for (const outline of outlines.values()) outline.dispose();
      for (const { sprite } of ends) {
        sprite.material.map?.dispose();
        sprite.material.dispose();
      }
    },
  };
};
