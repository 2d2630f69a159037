/** Has the browser save what an address gives, under a name where the server gives none. */
export function saveFile(href: string, name = ''): void {
  const link = document.createElement('a');
  link.href = href;
  link.download = name;
  link.click();
}
