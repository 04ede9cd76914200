/**
 * Pictures of the demo, drawn here: flat scenes of canals, boats and kitchens, 1280 by 720. Same name, same
 * picture.
 */

export const W = 1280;

export const H = 720;

/** Mulberry32: small, seeded, the same on every machine. */
export function seeded(text: string): () => number {
  let a = [...text].reduce((h, c) => Math.imul(h ^ c.charCodeAt(0), 16777619), 2166136261) >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

export const rect = (x: number, y: number, w: number, h: number, fill: string, more = '') =>
  `<rect x="${x}" y="${y}" width="${w}" height="${h}" fill="${fill}" ${more}/>`;

export const circle = (x: number, y: number, r: number, fill: string, more = '') =>
  `<circle cx="${x}" cy="${y}" r="${r}" fill="${fill}" ${more}/>`;

export const path = (d: string, fill: string, more = '') => `<path d="${d}" fill="${fill}" ${more}/>`;

export const line = (d: string, colour: string, width: number) =>
  `<path d="${d}" fill="none" stroke="${colour}" stroke-width="${width}" stroke-linecap="round"/>`;

interface Mood {
  sky: [string, string];
  far: string;
  near: string;
  water: string;
  path: string;
  sun?: [number, number, string];
}

export const MOODS = {
  frost: {
    sky: ['#dfe8ec', '#f3ece0'],
    far: '#a9bcc0',
    near: '#6d8588',
    water: '#b8ccd2',
    path: '#e8e6dc',
    sun: [930, 210, '#f7e3b0'],
  },
  fog: { sky: ['#e4e8e6', '#eef0ec'], far: '#d3dad7', near: '#b5c0bc', water: '#d6dddb', path: '#c9cfc8' },
  day: {
    sky: ['#a9cfe0', '#e6eede'],
    far: '#9cb78e',
    near: '#5f8a5a',
    water: '#6fa3ac',
    path: '#d9c9a3',
    sun: [1040, 150, '#fff3cf'],
  },
  dusk: {
    sky: ['#3b3f63', '#d98a5b'],
    far: '#574a66',
    near: '#352f4a',
    water: '#6b5b74',
    path: '#4b4358',
    sun: [640, 400, '#f6c179'],
  },
  night: {
    sky: ['#0f1a2b', '#24384a'],
    far: '#1a2a38',
    near: '#122029',
    water: '#1d3240',
    path: '#2a3a42',
    sun: [1010, 140, '#e8e6cf'],
  },
} satisfies Record<string, Mood>;

function hills(random: () => number, y: number, height: number, fill: string): string {
  let d = `M0 ${H}V${y}`;
  for (let x = 0; x <= W; x += 160)
    d += `Q${x + 80} ${y - random() * height} ${x + 160} ${y - random() * height * 0.4}`;
  return path(`${d}V${H}Z`, fill);
}

/** Sky, two lines of hills, a canal going to a point, and a towpath beside it. */
export function canal(name: string, mood: Mood): string {
  const random = seeded(name);
  const sun = mood.sun ? circle(mood.sun[0], mood.sun[1], 62, mood.sun[2]) : '';
  return (
    `<defs><linearGradient id="s" x2="0" y2="1"><stop stop-color="${mood.sky[0]}"/><stop ` +
    `offset="1" stop-color="${mood.sky[1]}"/></linearGradient></defs>` +
    `<rect width="${W}" height="${H}" ` +
    `fill="url(#s)"/>${sun}${hills(random, 400, 130, mood.far)}${hills(random, 450, 70, mood.near)}` +
    path(`M560 440L720 440L1180 ${H}L40 ${H}Z`, mood.water) +
    path(`M720 440L760 440L${W} 660V${H}H1180Z`, mood.path) +
    Array.from({ length: 9 }, () => {
      const y = 480 + random() * 220;
      const half = (y - 420) * 1.2;
      return line(`M${640 - half * random()} ${y}h${40 + random() * 120}`, 'rgba(255,255,255,.35)', 3);
    }).join('')
  );
}

const group = (x: number, y: number, scale: number, ...parts: readonly string[]) =>
  `<g transform="translate(${x} ${y}) scale(${scale})">${parts.join('')}</g>`;

export function boat(x: number, y: number, scale: number, hull: string, top: string): string {
  return group(
    x,
    y,
    scale,
    path('M0 40H420L400 90H30Z', hull),
    path('M60 40L78 0H360V40Z', top),
    ...[100, 160, 220, 280].map((w) => circle(w, 20, 11, '#f3ead2')),
    rect(120, -34, 14, 34, '#22262a'),
    rect(0, 36, 424, 8, '#e0c27a'),
  );
}

export function tree(x: number, y: number, size: number, crown: string): string {
  return (
    line(`M${x} ${y}V${y - size}`, '#4d3d30', size / 12) +
    circle(x, y - size * 1.15, size * 0.42, crown) +
    circle(x - size * 0.3, y - size * 0.9, size * 0.3, crown) +
    circle(x + size * 0.3, y - size * 0.92, size * 0.32, crown)
  );
}

export function bareTree(x: number, y: number, size: number, colour: string): string {
  return [
    [0, -1],
    [-0.35, -0.85],
    [0.35, -0.82],
    [-0.2, -1.1],
    [0.22, -1.08],
  ]
    .map(([dx, dy]) =>
      line(`M${x} ${y}Q${x} ${y - size * 0.5} ${x + dx! * size} ${y + dy! * size}`, colour, size / 22),
    )
    .join('');
}

export function gates(x: number, y: number, scale: number, beam = '#f4f2ea'): string {
  return group(
    x,
    y,
    scale,
    rect(-150, 0, 140, 170, '#3a3f3a'),
    rect(10, 0, 140, 170, '#3a3f3a'),
    rect(-290, -34, 280, 26, '#20241f'),
    rect(10, -34, 280, 26, '#20241f'),
    rect(-290, -34, 44, 26, beam),
    rect(246, -34, 44, 26, beam),
    ...[0, 1, 2, 3].map((i) => line(`M-140 ${30 + i * 38}H-20M20 ${30 + i * 38}H140`, '#5b615b', 5)),
  );
}

/** A table with a wall behind it. */
export function table(wall: string, wood: string): string {
  return (
    rect(0, 0, W, H, wall) +
    rect(0, 470, W, 250, wood) +
    Array.from({ length: 5 }, (_, i) => line(`M0 ${510 + i * 46}H${W}`, 'rgba(0,0,0,.10)', 3)).join('')
  );
}

export const shade = (x: number, y: number, rx: number) =>
  `<ellipse cx="${x}" cy="${y}" rx="${rx}" ry="22" fill="rgba(0,0,0,.18)"/>`;

export const pot = (x: number, y: number, fill: string) =>
  shade(x, y + 4, 190) +
  path(`M${x - 170} ${y - 170}H${x + 170}L${x + 140} ${y}H${x - 140}Z`, fill) +
  rect(x - 186, y - 190, 372, 26, '#2a2d2c') +
  rect(x - 24, y - 214, 48, 26, '#2a2d2c', 'rx="8"') +
  rect(x - 236, y - 150, 60, 22, '#2a2d2c', 'rx="9"') +
  rect(x + 176, y - 150, 60, 22, '#2a2d2c', 'rx="9"');

export const steam = (x: number, y: number) =>
  [0, 60, 120].map((dx) => line(`M${x + dx} ${y}q-26 -50 0 -90t0 -80`, 'rgba(255,255,255,.55)', 9)).join('');

export const jar = (x: number, y: number, w: number, h: number, fill: string) =>
  shade(x + w / 2, y + h, w * 0.6) +
  rect(x, y, w, h, 'rgba(255,255,255,.55)', 'rx="14"') +
  rect(x + 8, y + h * 0.35, w - 16, h * 0.62, fill, 'rx="10"') +
  rect(x - 4, y - 22, w + 8, 30, '#5d5240', 'rx="6"') +
  rect(x + w * 0.2, y + h * 0.48, w * 0.6, h * 0.2, '#f7f2e2');

export const rose = (x: number, y: number, r: number, deep: string, pale: string) =>
  circle(x, y, r, deep) +
  [0, 1, 2, 3, 4, 5]
    .map((i) => {
      const t = (i * Math.PI) / 3;
      return circle(x + Math.cos(t) * r * 0.72, y + Math.sin(t) * r * 0.72, r * 0.46, pale);
    })
    .join('') +
  circle(x, y, r * 0.42, deep);

export const leaf = (x: number, y: number, turn: number) =>
  `<ellipse cx="${x}" cy="${y}" rx="60" ry="22" fill="#3f7d4a" transform="rotate(${turn} ${x} ${y})"/>`;
