const TOKENS = ['verdigris', 'ink', 'soft', 'hair', 'brass', 'sheet'] as const;

/** The colours of the page where an element stands; tokens are light-dark() pairs, which only the browser resolves. */
export function colours(element: HTMLElement): Record<(typeof TOKENS)[number], string> {
  const resolved = (name: string) => {
    const probe = element.appendChild(document.createElement('i'));
    probe.style.color = `var(--${name})`;
    const { color } = getComputedStyle(probe);
    probe.remove();
    return color;
  };
  return Object.fromEntries(TOKENS.map((name) => [name, resolved(name)])) as ReturnType<typeof colours>;
}
