import type { FormResult, MeasuredTitle } from '@keyroster/core';

/** A title measured, and how titles of its form did. */
export type TitleFacts = MeasuredTitle & { did: FormResult };
