/** Something that has a version, which every change of it raises. */
export interface Versioned {
  version: number;
}

/** Values of single fields, by name. */
export type FieldValues = Record<string, unknown>;
