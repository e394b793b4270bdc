import type { StageDocument } from '../document/project.ts';
import type { MovedSet } from './rehearse.ts';
import { propsNow } from './world.ts';

/** A set as it stands now: its props, lights and camera where rules, cues and scripts have moved them. The same where none did. */
export const setNow = (set: StageDocument, moved: MovedSet | null): StageDocument => {
  if (!moved || (!moved.props.size && !moved.lights.size && !moved.camera)) return set;
  return {
    ...set,
    props: propsNow(set.props, moved.props),
    lights: moved.lights.size
      ? set.lights.map((light, i) => ({ ...light, ...moved.lights.get(i) }))
      : set.lights,
    camera: moved.camera ? { ...set.camera, ...moved.camera } : set.camera,
  };
};
