const PRIME = 16777619;
const bits = new DataView(new ArrayBuffer(8));

/** The digest of what JSON writes of a value. */
export const digestOfJson = (value: unknown): string => {
  const digest = createDigest();
  digest.word(JSON.stringify(value));
  return digest.text();
};

/** FNV-1a over bytes, the bits of numbers and the letters of words, twice from different beginnings: 64 bits, in hexadecimal. */
export const createDigest = () => {
  let [a, b] = [2166136261, 0x9747b28c];
  const eat = (byte: number): void => {
    a = Math.imul(a ^ byte, PRIME) >>> 0;
    b = Math.imul(b ^ (byte + 0x55), PRIME) >>> 0;
  };
  return {
    word: (text: string): void => {
      for (let i = 0; i < text.length; i += 1) {
        eat(text.charCodeAt(i) & 255);
        eat(text.charCodeAt(i) >> 8);
      }
    },
    bytes: (all: Uint8Array): void => {
      for (let i = 0; i < all.length; i += 1) eat(all[i]!);
    },
    number: (x: number): void => {
      bits.setFloat64(0, x);
      for (let i = 0; i < 8; i += 1) eat(bits.getUint8(i));
    },
    text: (): string => [a, b].map((half) => half.toString(16).padStart(8, '0')).join(''),
  };
};
