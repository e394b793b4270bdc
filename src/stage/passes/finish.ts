import { Vector2, type PerspectiveCamera } from 'three';
import { SURROUND, surroundOf } from './backdrop.ts';
import { finished, judgedBy, tapped } from './finishes.ts';
import { createFullFrame, type FullFrame } from './fullFrame.ts';
import type { Frame, PassDeclaration } from './pass.ts';

const UNIFORMS = ['source', 'depth', 'bloom', 'bloomIntensity', 'exposure', 'surround', 'reach'];

const programOf = ({ components, judged, set }: Frame): string => {
  if (judged) return judgedBy[judged];
  return components > 0 ? tapped(components) : finished(set.toneMapping ?? 'filmic');
};

/** The last pass: what was drawn, as it is shown. */
export const finish: PassDeclaration = {
  name: 'finish',
  reads: ({ components, judged, set }) => {
    if (components > 0 || judged) return ['scene', 'depth'];
    return set.bloom.intensity > 0 ? ['scene', 'bloom'] : ['scene'];
  },
  writes: ['picture'],
  create: (renderer) => {
    const made = new Map<string, FullFrame>();
    const reach = new Vector2();
    return {
      draw: (asked, { scene, depth, bloom }) => {
        const { components, judged, set, camera } = asked;
        const { near, far } = camera as PerspectiveCamera;
        const key = judged ?? (components > 0 ? `${components}` : (set.toneMapping ?? 'filmic'));
        const frame = made.get(key) ?? createFullFrame(renderer, UNIFORMS, programOf(asked));
        made.set(key, frame);
        frame.draw(
          {
            ...{ source: scene, depth, bloom: bloom ?? null },
            ...{ bloomIntensity: set.bloom.intensity, exposure: set.exposure },
            surround: components === 0 && !judged ? surroundOf(set) : SURROUND,
            reach: reach.set(near, far),
          },
          null,
        );
      },
      dispose: () => made.forEach((each) => each.dispose()),
    };
  },
};
