/** Where a command writes. */
export interface Output {
  out(text: string): void;
  error(line: string): void;
}
