/** Something that ends a command with one line on standard error: exit 2 for wrong input, 1 for anything else. */
export class CommandFailure extends Error {
  override readonly name = 'CommandFailure';
  constructor(
    message: string,
    readonly exitCode: 1 | 2,
  ) {
    super(message);
  }
}

/** Wrong use: a missing file, a damaged one, an option that makes no sense. */
export const wrongInput = (message: string): CommandFailure => new CommandFailure(message, 2);
