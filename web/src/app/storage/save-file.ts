/** Hands bytes to the person as a downloaded file. */
export function saveFile(bytes: Uint8Array<ArrayBuffer>, name: string, type: string): void {
  const address = URL.createObjectURL(new Blob([bytes], { type }));
  const link = document.createElement('a');
  link.href = address;
  link.download = name;
  link.click();
  // The download has taken the address over once this task is done.
  setTimeout(() => URL.revokeObjectURL(address), 10_000);
}
