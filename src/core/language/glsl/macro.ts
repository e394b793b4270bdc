export interface Macro {
  /** Names of its arguments, or null for one that takes none. */
  readonly parameters: readonly string[] | null;
  readonly body: string;
}
