import {
  ClampToEdgeWrapping,
  LinearFilter,
  LinearMipmapLinearFilter,
  NearestFilter,
  NoColorSpace,
  RepeatWrapping,
  TextureLoader,
  type Texture,
} from 'three';
import type { Holds } from '#core/images/encodePng.ts';
import { exactTexture } from './exactLevels.ts';

/** Loads the pictures that materials sample. */
export const createTextures = (onLoaded: () => void, onFailed: () => void) => {
  const loader = new TextureLoader();
  const loaded = new Map<string, Texture>();
  const coming = new Set<string>();
  /** A picture by its address, which tells how it is read, loaded once. Its bytes are numbers: nothing is converted from sRGB. */
  const textureAt = (address: string): Texture => {
    let texture = loaded.get(address);
    if (!texture) {
      const arrived = (tell: () => void) => () => {
        coming.delete(address);
        tell();
      };
      coming.add(address);
      const [bytes = '', hash = 'repeat-repeat-linear'] = address.split('#');
      const [across, down, filter, holds = 'numbers', bits = '8'] = hash.split('-');
      const events = { onLoaded: arrived(onLoaded), onFailed: arrived(onFailed) };
      // What is averaged otherwise than as its bytes are, or has more of them, is not for the browser to load.
      texture =
        holds === 'numbers' && bits === '8'
          ? loader.load(bytes, events.onLoaded, undefined, events.onFailed)
          : exactTexture(
              { address: bytes, holds: holds as Holds, bits: bits === '32' ? 32 : bits === '16' ? 16 : 8 },
              events,
            );
      texture.wrapS = across === 'clamp' ? ClampToEdgeWrapping : RepeatWrapping;
      texture.wrapT = down === 'clamp' ? ClampToEdgeWrapping : RepeatWrapping;
      texture.magFilter = filter === 'nearest' ? NearestFilter : LinearFilter;
      texture.minFilter = filter === 'nearest' ? NearestFilter : LinearMipmapLinearFilter;
      texture.colorSpace = NoColorSpace;
      texture.userData['holds'] = holds === 'numbers' ? undefined : holds;
      loaded.set(address, texture);
    }
    return texture;
  };
  const letGo = (keep: (address: string) => boolean): void => {
    for (const [address, texture] of loaded)
      if (!keep(address)) {
        texture.dispose();
        loaded.delete(address);
        coming.delete(address);
      }
  };
  return {
    textureAt,
    isComing: (): boolean => coming.size > 0,
    isOnItsWay: (address: string): boolean => coming.has(address),
    /** Lets go of every picture that no material reads any more. */
    keepOnly: (addresses: ReadonlySet<string>): void => letGo((address) => addresses.has(address)),
    dispose: (): void => letGo(() => false),
  };
};
