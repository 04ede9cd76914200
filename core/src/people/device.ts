const BROWSERS: [RegExp, string][] = [
  [/\bEdgA?\//, 'Edge'],
  [/\bOPR\//, 'Opera'],
  [/\bFirefox\//, 'Firefox'],
  [/\bChrome\//, 'Chrome'],
  [/\bSafari\//, 'Safari'],
];
const SYSTEMS: [RegExp, string][] = [
  [/\biPhone\b/, 'iPhone'],
  [/\biPad\b/, 'iPad'],
  [/\bAndroid\b/, 'Android'],
  [/\bWindows\b/, 'Windows'],
  [/\bMac OS X\b/, 'Mac'],
  [/\bLinux\b/, 'Linux'],
];

/** What a browser says it is (RFC 9110, section 10.1.5), in words: `Firefox on Linux`. */
export function formatDevice(userAgent: string): string {
  const named = (list: [RegExp, string][]) => list.find(([pattern]) => pattern.test(userAgent))?.[1];
  const [browser, system] = [named(BROWSERS), named(SYSTEMS)];
  if (!browser) return system ? `a program on ${system}` : 'a program';
  return system ? `${browser} on ${system}` : browser;
}
