import type { CheckKey, Rule } from './check.js';
import { COPY_RULES } from './copy-rules.js';
import { DETAIL_RULES } from './detail-rules.js';
import { TEXT_RULES } from './text-rules.js';

export const RULES: Record<CheckKey, Rule> = { ...DETAIL_RULES, ...TEXT_RULES, ...COPY_RULES };
