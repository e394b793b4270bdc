import type { Check, Found } from '../scene.ts';

/** What every machine has for a pixel (OpenGL ES 3.0, MAX_TEXTURE_IMAGE_UNITS). */
export const TEXTURE_UNITS = 16;
/** What the light needs where it throws shadows and comes from a picture. */
const LIGHT = 2;

export const tooManyTextures: Check = {
  name: 'too-many-textures',
  title: 'More textures than there is room for',
  why: 'A phone reads sixteen at once; a shader with more does not link there.',
  of: 'shader',
  look: ({ subjects }) =>
    subjects.flatMap(({ shader, cost }): Found[] => {
      const room = TEXTURE_UNITS - (shader.body.surface.lit ? LIGHT : 0);
      return cost.textures > room
        ? [
            {
              ...{ part: shader.id, place: { kind: 'part' } },
              message: `${shader.name} reads ${cost.textures} textures, curves and gradients; there is room for ${room}${shader.body.surface.lit ? `, since light takes ${LIGHT}` : ''}. A curve or a gradient takes one as a picture does.`,
            },
          ]
        : [];
    }),
};
