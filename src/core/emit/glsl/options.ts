export interface EmitOptions {
  /** `live` reads packed uniforms and can show any tap; `handover` is the source a game takes. */
  readonly purpose: 'live' | 'handover';
  readonly title: string;
  /** A line on what each strand is for. */
  readonly notes?: ReadonlyMap<string, string>;
}
