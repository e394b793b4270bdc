import { deflateSync } from 'node:zlib';

const SIDE = 128;

/** CRC-32 as PNG wants it (ISO 3309). */
const crc = (bytes: Uint8Array): number => {
  let c = 0xffffffff;
  for (const byte of bytes) {
    c ^= byte;
    for (let i = 0; i < 8; i += 1) c = c & 1 ? (c >>> 1) ^ 0xedb88320 : c >>> 1;
  }
  return (c ^ 0xffffffff) >>> 0;
};

const chunk = (name: string, data: Uint8Array): Buffer => {
  const body = Buffer.concat([Buffer.from(name, 'latin1'), data]);
  const out = Buffer.alloc(body.length + 8);
  out.writeUInt32BE(data.length, 0);
  body.copy(out, 4);
  out.writeUInt32BE(crc(body), body.length + 4);
  return out;
};

/** A grey PNG of the playhouse's own making: a whorl that burns from its heart outwards along two arms. */
export const orderPicture = (): Uint8Array => {
  const rows = Buffer.alloc(SIDE * (SIDE + 1));
  for (let y = 0; y < SIDE; y += 1)
    for (let x = 0; x < SIDE; x += 1) {
      const [u, v] = [(x + 0.5) / SIDE - 0.5, (y + 0.5) / SIDE - 0.5];
      const radius = Math.hypot(u, v) * 1.414;
      const arms = 0.5 + 0.5 * Math.cos(2 * (Math.atan2(v, u) - radius * 7));
      rows[y * (SIDE + 1) + 1 + x] = Math.round(255 * Math.min(1, radius * 0.7 + arms * 0.3));
    }
  const header = Buffer.alloc(13);
  header.writeUInt32BE(SIDE, 0);
  header.writeUInt32BE(SIDE, 4);
  // Eight bits, grey, and PNG's only compression, filter and no interlacing.
  header.set([8, 0, 0, 0, 0], 8);
  const signature = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
  return Buffer.concat([
    signature,
    chunk('IHDR', header),
    chunk('IDAT', deflateSync(rows)),
    chunk('IEND', new Uint8Array()),
  ]);
};
