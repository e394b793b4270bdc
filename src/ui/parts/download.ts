/** Hands a text to the browser as a file. */
export const download = (name: string, type: string, text: string): void => {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(new Blob([text], { type }));
  link.download = name;
  link.click();
  // Some browsers fetch it only after this.
  setTimeout(() => URL.revokeObjectURL(link.href), 1000);
};
