import { NoColorSpace, RepeatWrapping, TextureLoader, type Texture } from 'three';

/** Loads the pictures that materials sample. */
export const createTextures = (onLoaded: () => void, onFailed: () => void) => {
  const loader = new TextureLoader();
  const loaded = new Map<string, Texture>();
  /** A picture by its address, loaded once. Its bytes are numbers: nothing is converted from sRGB. */
  const textureAt = (address: string): Texture => {
    let texture = loaded.get(address);
    if (!texture) {
      texture = loader.load(address, onLoaded, undefined, onFailed);
      texture.wrapS = RepeatWrapping;
      texture.wrapT = RepeatWrapping;
      texture.colorSpace = NoColorSpace;
      loaded.set(address, texture);
    }
    return texture;
  };
  const dispose = (): void => {
    for (const texture of loaded.values()) texture.dispose();
  };
  return { textureAt, dispose };
};
