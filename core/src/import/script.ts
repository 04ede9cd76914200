/** Unicode's superscripts and subscripts (block U+2070 to U+209F, and those of Latin-1). */
const RAISED: Record<string, string> = Object.fromEntries(
  [...'0123456789+-=()ni'].map((c, i) => [c, [...'⁰¹²³⁴⁵⁶⁷⁸⁹⁺⁻⁼⁽⁾ⁿⁱ'][i]!]),
);
const LOWERED: Record<string, string> = Object.fromEntries(
  [...'0123456789+-=()aeoxhklmnpst'].map((c, i) => [c, [...'₀₁₂₃₄₅₆₇₈₉₊₋₌₍₎ₐₑₒₓₕₖₗₘₙₚₛₜ'][i]!]),
);

/** A raised or lowered text in letters of its own (x², CO₂); null when Unicode has none for some of it. */
export function inScript(text: string, tag: 'sup' | 'sub'): string | null {
  const signs = tag === 'sup' ? RAISED : LOWERED;
  const out = [...text.replace(/\u2212/g, '-')].map((c) => signs[c]);
  return out.length > 0 && out.every((c) => c !== undefined) ? out.join('') : null;
}
