/** Hands what is at an address to the browser as a file. */
export const downloadFrom = (name: string, address: string): void => {
  const link = document.createElement('a');
  link.href = address;
  link.download = name;
  link.click();
};

/** Hands a text or bytes to the browser as a file. */
export const download = (name: string, type: string, content: BlobPart): void =>
  downloadBlob(name, new Blob([content], { type }));

/** Hands a blob to the browser as a file. */
export const downloadBlob = (name: string, blob: Blob): void => {
  const address = URL.createObjectURL(blob);
  downloadFrom(name, address);
  // Some browsers fetch it only after this.
  setTimeout(() => URL.revokeObjectURL(address), 1000);
};
