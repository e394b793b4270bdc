/** A random id of hexadecimal digits: also where the page is no secure context, as over plain HTTP on a network. */
export const newId = (digits = 8): string =>
  [...crypto.getRandomValues(new Uint8Array(Math.ceil(digits / 2)))]
    .map((byte) => byte.toString(16).padStart(2, '0'))
    .join('')
    .slice(0, digits);
