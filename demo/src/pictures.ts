import {
  H,
  MOODS,
  W,
  bareTree,
  boat,
  canal,
  circle,
  gates,
  jar,
  leaf,
  line,
  path,
  pot,
  rect,
  rose,
  seeded,
  shade,
  steam,
  table,
  tree,
} from './drawing.js';

const SCENES: Record<string, { alt: string; draw: () => string }> = {
  steps: {
    alt: 'A flight of locks climbing through bare trees, white with frost.',
    draw: () =>
      canal('steps', MOODS.frost) +
      [0, 1, 2, 3].map((i) => gates(640, 400 + i * 75, 0.35 + i * 0.28)).join('') +
      [120, 250, 330, 980, 1120, 1210]
        .map((x, i) => bareTree(x, 560 + (i % 3) * 30, 260, '#7c8a8a'))
        .join(''),
  },
  fog: {
    alt: 'A canal vanishing into fog, with a heron on a low bridge.',
    draw: () =>
      canal('fog', MOODS.fog) +
      rect(430, 430, 420, 20, '#a3aea9') +
      line('M610 428V340q-6 -40 26 -44l44 8', '#8b9893', 14) +
      line('M604 428V470M620 428V470', '#8b9893', 6),
  },
  aqueduct: {
    alt: 'Seven tall brick piers carrying an iron trough over a river meadow.',
    draw: () =>
      canal('aqueduct', MOODS.day) +
      rect(0, 150, W, 46, '#3c4a4c') +
      rect(0, 130, W, 8, '#3c4a4c') +
      Array.from({ length: 32 }, (_, i) => rect(i * 40, 134, 4, 20, '#3c4a4c')).join('') +
      Array.from({ length: 7 }, (_, i) =>
        path(`M${60 + i * 190} 196h64l16 ${330 + (i % 2) * 20}h-96Z`, i === 2 ? '#b98b6c' : '#a5714f'),
      ).join(''),
  },
  spring: {
    alt: 'A sunny basin with a crane and moored boats.',
    draw: () =>
      canal('spring', MOODS.day) +
      tree(150, 560, 220, '#7fae62') +
      tree(1130, 520, 180, '#8dbb6d') +
      line('M930 500V250L1080 210M930 250L870 300', '#33403f', 14) +
      boat(220, 560, 0.9, '#23543f', '#a33d2f') +
      boat(640, 480, 0.45, '#27486b', '#c79a3c'),
  },
  engine: {
    alt: 'An engine bay with a green diesel and a card hung on the seacock.',
    draw: () =>
      table('#39423f', '#2b302e') +
      rect(330, 190, 560, 300, '#2f6b52', 'rx="14"') +
      [400, 530, 660, 790].map((x) => rect(x, 130, 70, 80, '#275a45', 'rx="8"')).join('') +
      circle(330, 400, 92, '#9aa39d') +
      circle(330, 400, 36, '#565e59') +
      circle(890, 420, 70, '#c9a24a') +
      circle(890, 420, 26, '#6b5626') +
      rect(1000, 260, 150, 100, '#f4efdf') +
      '<text x="1075" y="324" font-family="sans-serif" font-weight="700" font-size="40" ' +
      'text-anchor="middle" fill="#a32b2b">OPEN</text>' +
      line('M1075 260V180', '#d9d2bb', 4),
  },
  oil: {
    alt: 'A white saucer of dark oil beside six dated blots on kitchen paper.',
    draw: () =>
      table('#d9d6c9', '#b18d62') +
      shade(420, 560, 260) +
      '<ellipse cx="420" cy="520" rx="260" ry="96" fill="#fbfaf4"/><ellipse cx="420" ' +
      'cy="516" rx="170" ry="56" fill="#2a2118"/><ellipse cx="440" cy="506" rx="110" ' +
      'ry="26" fill="#4a3820"/>' +
      rect(760, 380, 420, 250, '#f6f3e8') +
      [0, 1, 2, 3, 4, 5]
        .map(
          (i) =>
            circle(840 + (i % 3) * 130, 450 + Math.floor(i / 3) * 110, 44, '#cbbf9f') +
            circle(
              840 + (i % 3) * 130,
              450 + Math.floor(i / 3) * 110,
              18 + i * 2,
              i === 4 ? '#1b1712' : '#5b4a34',
            ),
        )
        .join(''),
  },
  bilge: {
    alt: 'A dusted bilge with one wet track running across the white powder.',
    draw: () =>
      rect(0, 0, W, H, '#3f4643') +
      path('M0 200H1280V720H0Z', '#e9e6dd') +
      [0, 320, 640, 960, 1280].map((x) => rect(x - 14, 160, 28, 560, '#5a635f')).join('') +
      line('M1120 220C1000 300 980 380 820 420S560 520 420 560', '#7d8f95', 22) +
      `<ellipse cx="370" cy="590" rx="150" ry="56" fill="#7d8f95"/>`,
  },
  noises: {
    alt: 'A hand-drawn dial with four sounds marked from cheap to dear.',
    draw: () =>
      table('#e5e0d0', '#7c8a86') +
      circle(640, 400, 270, '#fbfaf3') +
      circle(640, 400, 270, 'none', 'stroke="#2c3532" stroke-width="14"') +
      ['#3f7d3a', '#7a6a17', '#b0562c', '#a32b2b']
        .map((c, i) => {
          const a = Math.PI * (1.1 + i * 0.23);
          return line(
            `M${640 + Math.cos(a) * 200} ${400 + Math.sin(a) * 200}L${640 + Math.cos(a) * 245} ` +
              `${400 + Math.sin(a) * 245}`,
            c,
            30,
          );
        })
        .join('') +
      line('M640 400L770 250', '#2c3532', 16) +
      circle(640, 400, 26, '#2c3532'),
  },
  cottage: {
    alt: 'A lock cottage at dusk with a lamp in the window.',
    draw: () =>
      canal('cottage', MOODS.dusk) +
      rect(870, 300, 300, 190, '#e7d9bf') +
      path('M840 306L1020 200L1200 306Z', '#6a4438') +
      rect(1090, 190, 36, 70, '#6a4438') +
      rect(930, 350, 70, 70, '#ffd98a') +
      rect(1060, 350, 70, 140, '#4b6a58') +
      gates(520, 470, 0.75),
  },
  letters: {
    alt: 'A tin of old letters tied with red tape.',
    draw: () =>
      table('#c9bda4', '#5f4a38') +
      shade(640, 600, 380) +
      path('M300 400H980L940 600H340Z', '#6f7a78') +
      rect(286, 380, 708, 34, '#85908d') +
      [0, 1, 2, 3, 4]
        .map((i) =>
          rect(
            360 + i * 110,
            250 + (i % 2) * 24,
            180,
            150,
            i % 2 ? '#efe4c8' : '#e5d6b2',
            `transform="rotate(${-8 + i * 4} ${450 + i * 110} 320)"`,
          ),
        )
        .join('') +
      rect(600, 240, 18, 170, '#a32b2b'),
  },
  night: {
    alt: 'A flight of lock gates at night under the moon, with one torch.',
    draw: () =>
      canal('night', MOODS.night) +
      [0, 1, 2, 3].map((i) => gates(600, 390 + i * 80, 0.34 + i * 0.27, '#b9c4c8')).join('') +
      circle(1010, 560, 130, 'rgba(255,224,150,.25)') +
      circle(1010, 560, 18, '#ffe39a') +
      rect(1000, 570, 20, 76, '#0b1216'),
  },
  roses: {
    alt: 'Painted roses and leaves on a dark green boat door.',
    draw: () =>
      rect(0, 0, W, H, '#12382c') +
      rect(60, 50, 1160, 620, 'none', 'stroke="#d9b75a" stroke-width="12"') +
      [
        [330, 300, 20],
        [520, 430, -30],
        [640, 250, 15],
        [780, 440, 40],
        [950, 310, -20],
        [200, 430, 60],
        [1080, 430, -60],
      ]
        .map(([x, y, t]) => leaf(x!, y! + 60, t!) + leaf(x! - 60, y! - 40, t! + 70))
        .join('') +
      rose(400, 340, 92, '#a5283a', '#eab4bd') +
      rose(640, 390, 112, '#c9722e', '#f6d9a8') +
      rose(880, 340, 92, '#a5283a', '#f0c3ca') +
      [
        [250, 220],
        [1030, 220],
        [640, 180],
      ]
        .map(([x, y]) => circle(x!, y!, 26, '#f4efdd') + circle(x!, y!, 9, '#d9a93a'))
        .join(''),
  },
  pot: {
    alt: 'A pot steaming on a cast-iron stove.',
    draw: () =>
      table('#8c4f37', '#3b3634') +
      rect(280, 480, 720, 240, '#262827') +
      rect(250, 460, 780, 30, '#1d1f1e') +
      circle(640, 600, 66, '#f0a13c') +
      circle(640, 600, 66, 'none', 'stroke="#111" stroke-width="10"') +
      pot(640, 462, '#2f6b52') +
      steam(580, 236),
  },
  bread: {
    alt: 'A round, slashed loaf cooling on a board.',
    draw: () =>
      table('#ddd7c6', '#8a6a48') +
      shade(640, 590, 330) +
      rect(280, 560, 720, 36, '#a98255', 'rx="10"') +
      path('M360 562C360 330 920 330 920 562Z', '#b9762f') +
      path('M400 540C420 380 860 380 880 540Z', '#cf9144') +
      [0, 1, 2].map((i) => line(`M${500 + i * 110} 480q40 -70 90 -80`, '#f0d7a4', 14)).join(''),
  },
  pan: {
    alt: 'A wide pan of sausages, beans and cabbage, seen from above.',
    draw: () =>
      table('#cfd6cd', '#9aa79c') +
      circle(600, 370, 300, '#2b2f2e') +
      circle(600, 370, 262, '#a2402c') +
      Array.from({ length: 26 }, (_, i) => {
        const r = seeded(`bean${i}`);
        const a = r() * 6.28;
        const d = r() * 220;
        return (
          `<ellipse cx="${600 + Math.cos(a) * d}" cy="${370 + Math.sin(a) * d}" rx="20" ` +
          'ry="12" fill="#f1e2bf"/>'
        );
      }).join('') +
      [0, 1, 2, 3]
        .map(
          (i) =>
            `<rect x="${450 + i * 70}" y="270" width="46" height="190" rx="23" fill="#7b4528" ` +
            `transform="rotate(${-18 + i * 11} ${470 + i * 70} 370)"/>`,
        )
        .join('') +
      rect(880, 350, 340, 44, '#2b2f2e', 'rx="22"'),
  },
  jars: {
    alt: 'Six square jars on a shelf, each with a label.',
    draw: () =>
      rect(0, 0, W, H, '#e7e1cf') +
      rect(0, 560, W, 40, '#8a6a48') +
      ['#e9dcbc', '#f4f1e4', '#7d5a3a', '#b9412f', '#d8c08a', '#5d7a48']
        .map((c, i) => jar(90 + i * 190, 290, 150, 270, c))
        .join(''),
  },
  yard: {
    alt: 'A riveted hull on a slipway under a crane.',
    draw: () =>
      canal('yard', MOODS.day) +
      rect(0, 560, W, 160, '#8c8577') +
      path('M180 420H1080L1010 590H240Z', '#2d3336') +
      Array.from({ length: 42 }, (_, i) =>
        circle(230 + (i % 21) * 40, 460 + Math.floor(i / 21) * 80, 6, '#6d777b'),
      ).join('') +
      rect(220, 590, 60, 60, '#6a4d36') +
      rect(940, 590, 60, 60, '#6a4d36') +
      line('M1120 600V140L760 180M1120 140L1220 220', '#a32b2b', 16) +
      line('M790 180V300', '#2d3336', 5),
  },
  morning: {
    alt: 'A moored boat in early light with mist on the water.',
    draw: () =>
      canal('morning', {
        ...MOODS.dusk,
        sky: ['#8fb3c6', '#f6d8a6'],
        far: '#a3b2a0',
        near: '#6f8a74',
        water: '#c9c9ae',
        path: '#b5a985',
        sun: [420, 380, '#fff0c4'],
      }) +
      boat(520, 470, 1.1, '#27486b', '#8c3b2c') +
      [500, 560, 620].map((y, i) => rect(0, y, W, 26, `rgba(255,255,255,${0.28 - i * 0.06})`)).join('') +
      tree(1180, 560, 200, '#7d9a6a'),
  },
  lanterns: {
    alt: 'Boats with paper lanterns on dark water.',
    draw: () =>
      canal('lanterns', MOODS.night) +
      boat(140, 520, 0.9, '#15242c', '#33414a') +
      boat(680, 470, 0.6, '#15242c', '#33414a') +
      Array.from({ length: 16 }, (_, i) => {
        const r = seeded(`lamp${i}`);
        const x = 100 + r() * 1080;
        const y = 330 + r() * 190;
        return (
          circle(x, y, 44, 'rgba(255,205,110,.22)') +
          `<ellipse cx="${x}" cy="${y}" rx="17" ry="22" fill="${i % 3 ? '#ffd27a' : '#f29a6b'}"/>`
        );
      }).join(''),
  },
  stove: {
    alt: 'A small iron stove with a bright window in a boat cabin.',
    draw: () =>
      rect(0, 0, W, H, '#6c4a33') +
      Array.from({ length: 9 }, (_, i) => line(`M0 ${i * 80 + 40}H${W}`, 'rgba(0,0,0,.14)', 4)).join('') +
      rect(0, 590, W, 130, '#3c3530') +
      circle(210, 240, 90, '#cfe0e2') +
      circle(210, 240, 90, 'none', 'stroke="#c9a24a" stroke-width="16"') +
      rect(600, 0, 60, 250, '#222') +
      rect(450, 240, 360, 330, '#262827', 'rx="18"') +
      rect(510, 320, 240, 170, '#f0922f', 'rx="10"') +
      path('M560 490q20 -90 60 -120q0 60 40 60q20 -30 10 -70q60 60 50 130Z', '#ffd979') +
      [480, 740].map((x) => rect(x, 570, 36, 40, '#1b1c1b')).join(''),
  },
};

export const PICTURES = Object.keys(SCENES);

export function pictureSvg(name: string): string {
  const scene = SCENES[name];
  if (!scene) throw new Error(`The demo has no picture “${name}”.`);
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" width="${W}" height="${H}" viewBox="0 0 ` +
    `${W} ${H}">${scene.draw()}</svg>`
  );
}

export function pictureAlt(name: string): string {
  return SCENES[name]?.alt ?? '';
}
