/** Hands what is at an address to the browser as a file. */
export const downloadFrom = (name: string, address: string): void => {
  const link = document.createElement('a');
  link.href = address;
  link.download = name;
  link.click();
};

/** Hands a text to the browser as a file. */
export const download = (name: string, type: string, text: string): void => {
  const address = URL.createObjectURL(new Blob([text], { type }));
  downloadFrom(name, address);
  // Some browsers fetch it only after this.
  setTimeout(() => URL.revokeObjectURL(address), 1000);
};
