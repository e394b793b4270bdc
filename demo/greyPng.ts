import { crc32, deflateSync } from 'node:zlib';

const chunk = (name: string, data: Uint8Array): Buffer => {
  const body = Buffer.concat([Buffer.from(name, 'latin1'), data]);
  const out = Buffer.alloc(body.length + 8);
  out.writeUInt32BE(data.length, 0);
  body.copy(out, 4);
  out.writeUInt32BE(crc32(body), body.length + 4);
  return out;
};

/** A square grey PNG of 8 or 16 bits from what is, from 0 to 1, at the middle of each pixel; v runs downwards. */
export const greyPng = (side: number, bits: 8 | 16, at: (u: number, v: number) => number): Uint8Array => {
  const size = bits / 8;
  const rows = Buffer.alloc(side * (side * size + 1));
  for (let y = 0; y < side; y += 1)
    for (let x = 0; x < side; x += 1) {
      const grey = Math.min(Math.max(at((x + 0.5) / side, (y + 0.5) / side), 0), 1);
      rows.writeUIntBE(Math.round(grey * (2 ** bits - 1)), y * (side * size + 1) + 1 + x * size, size);
    }
  const header = Buffer.alloc(13);
  header.writeUInt32BE(side, 0);
  header.writeUInt32BE(side, 4);
  // Grey, and PNG's only compression, filter and no interlacing.
  header.set([bits, 0, 0, 0, 0], 8);
  const signature = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
  return Buffer.concat([
    signature,
    chunk('IHDR', header),
    chunk('IDAT', deflateSync(rows)),
    chunk('IEND', new Uint8Array()),
  ]);
};
