/** A cell that is cut off says the whole under the pointer. */
export function sayWhole({ currentTarget }: MouseEvent): void {
  const cell = currentTarget as HTMLElement;
  if (cell.scrollWidth > cell.clientWidth) cell.title = cell.innerText;
  else cell.removeAttribute('title');
}
