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
  const letGo = (keep: (address: string) => boolean): void => {
    for (const [address, texture] of loaded)
      if (!keep(address)) {
        texture.dispose();
        loaded.delete(address);
      }
  };
  return {
    textureAt,
    /** Lets go of every picture that no material reads any more. */
    keepOnly: (addresses: ReadonlySet<string>): void => letGo((address) => addresses.has(address)),
    dispose: (): void => letGo(() => false),
  };
};
