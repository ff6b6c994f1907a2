/** Files given to the person and taken from them, without the server. */

export function saveText(name: string, text: string, type = 'application/json'): void {
  saveFile(name, new Blob([text], { type }));
}

export function saveFile(name: string, content: Blob): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(content);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}

/** A name that every system takes as a file's. */
export function fileName(name: string, ending: string): string {
  return `${name.replace(/[^\p{L}\p{N} _-]/gu, '').trim() || 'set'}${ending}`;
}
