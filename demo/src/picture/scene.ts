/** The moments of the demo picture, in seconds; the demo's sounds are laid to them. */
export const moments = {
  crack: 0.4,
  slabLetsGo: 2,
  waterRises: 4.2,
  drillScene: 8,
  drillOn: 8.05,
  drillRuns: 10.3,
  drillOff: 17.2,
  stepScene: 20,
  radioScene: 24,
  end: 26,
} as const;

export const pictureSize = { width: 640, height: 360 } as const;
export const pictureRate = 25;

/** What the drawing needs of a canvas context. */
export interface PictureContext {
  fillStyle: unknown;
  strokeStyle: unknown;
  lineWidth: number;
  globalAlpha: number;
  fillRect(x: number, y: number, width: number, height: number): void;
  beginPath(): void;
  moveTo(x: number, y: number): void;
  lineTo(x: number, y: number): void;
  closePath(): void;
  fill(): void;
  stroke(): void;
  arc(x: number, y: number, radius: number, from: number, to: number): void;
  save(): void;
  restore(): void;
  translate(x: number, y: number): void;
  rotate(angle: number): void;
  createLinearGradient(x0: number, y0: number, x1: number, y1: number): { addColorStop(offset: number, colour: string): void };
}

/** Draws the frame of the Halda Station picture at a time in seconds: a slab that breaks off, a drill, steps in snow, a radio. */
export function drawScene(context: PictureContext, time: number): void {
  drawSky(context, time);
  if (time < moments.drillScene) drawCliff(context, time);
  else if (time < moments.stepScene) drawDrill(context, time);
  else if (time < moments.radioScene) drawSteps(context, time - moments.stepScene);
  else drawRadio(context, time - moments.radioScene);
}

const { width, height } = pictureSize;
type Point = readonly [number, number];

function polygon(context: PictureContext, points: readonly Point[], fill: string): void {
  context.beginPath();
  points.forEach(([x, y], i) => (i === 0 ? context.moveTo(x, y) : context.lineTo(x, y)));
  context.closePath();
  context.fillStyle = fill;
  context.fill();
}

function line(context: PictureContext, points: readonly Point[], colour: string, thickness: number): void {
  context.beginPath();
  points.forEach(([x, y], i) => (i === 0 ? context.moveTo(x, y) : context.lineTo(x, y)));
  context.strokeStyle = colour;
  context.lineWidth = thickness;
  context.stroke();
}

/** A number from 0 to 1 that always belongs to the same index. */
const scatter = (index: number): number => (Math.sin(index * 127.1 + 311.7) * 43_758.5453) % 1;
const positive = (value: number): number => value - Math.floor(value);

function drawSky(context: PictureContext, time: number): void {
  const gradient = context.createLinearGradient(0, 0, 0, height);
  gradient.addColorStop(0, '#08131a');
  gradient.addColorStop(1, '#1c3a42');
  context.fillStyle = gradient;
  context.fillRect(0, 0, width, height);
  context.fillStyle = '#ece5d6';
  for (let i = 0; i < 60; i++) {
    context.globalAlpha = 0.3 + 0.5 * positive(scatter(i + 200));
    context.fillRect(positive(scatter(i)) * width, positive(scatter(i + 100)) * 150, 1.5, 1.5);
  }
  for (let band = 0; band < 3; band++) {
    context.globalAlpha = 0.1;
    const points: Point[] = [];
    for (let x = 0; x <= width; x += 40) points.push([x, 46 + band * 20 + 14 * Math.sin(x / 90 + band + time * 0.25)]);
    for (let x = width; x >= 0; x -= 40) points.push([x, 84 + band * 20 + 16 * Math.sin(x / 70 + band + time * 0.2)]);
    polygon(context, points, band === 1 ? '#7fc8da' : '#9dbf72');
  }
  context.globalAlpha = 1;
  polygon(
    context,
    [
      [0, 210],
      [90, 150],
      [180, 195],
      [300, 130],
      [420, 200],
      [520, 160],
      [640, 205],
      [640, 360],
      [0, 360],
    ],
    '#14292f',
  );
}

function drawBeacon(context: PictureContext, time: number): void {
  line(
    context,
    [
      [60, 250],
      [60, 170],
    ],
    '#ece5d6',
    2,
  );
  const lit = time % 2 < 0.12;
  context.fillStyle = lit ? '#ff7b61' : '#5a3a34';
  context.beginPath();
  context.arc(60, 166, lit ? 7 : 4, 0, 2 * Math.PI);
  context.fill();
}

const crackPath: readonly Point[] = [
  [330, 176],
  [342, 205],
  [334, 226],
  [352, 252],
  [344, 280],
  [360, 312],
];

function drawCliff(context: PictureContext, time: number): void {
  const sinceRise = time - moments.waterRises;
  const swell = sinceRise > 0 ? 26 * Math.sin(Math.min(Math.PI, sinceRise * 1.5)) * Math.exp(-sinceRise * 0.5) : 0;
  polygon(
    context,
    [
      [0, 250],
      [200, 240],
      [330, 176],
      [360, 312],
      [340, 360],
      [0, 360],
    ],
    '#8fb4bb',
  );
  polygon(
    context,
    [
      [0, 270],
      [200, 262],
      [320, 210],
      [340, 360],
      [0, 360],
    ],
    '#a9c8cc',
  );
  drawBeacon(context, time);
  // The slab stands until it lets go, then tips over and sinks.
  const fall = Math.max(0, time - moments.slabLetsGo);
  const drop = Math.min(190, 20 * fall * fall * 1.6);
  context.save();
  context.translate(360, 312 + drop);
  context.rotate(Math.min(0.9, 0.09 * fall * fall));
  polygon(
    context,
    [
      [-30, -136],
      [60, -118],
      [96, -60],
      [92, 60],
      [0, 60],
      [-16, -32],
      [-26, -86],
    ],
    '#c4dde0',
  );
  polygon(
    context,
    [
      [60, -118],
      [96, -60],
      [92, 60],
      [50, 60],
    ],
    '#7fa3ab',
  );
  context.restore();
  const sinceLetGo = time - moments.slabLetsGo;
  if (sinceLetGo > -1e-6 && sinceLetGo < 0.9) {
    context.fillStyle = '#ece5d6';
    context.globalAlpha = 1 - sinceLetGo / 0.9;
    for (let i = 0; i < 90; i++) {
      const along = positive(scatter(i + 400));
      const x = 332 + 28 * along + (positive(scatter(i + 500)) - 0.5) * (26 + 130 * sinceLetGo);
      context.fillRect(x, 180 + 130 * along + 60 * sinceLetGo * sinceLetGo, 5, 5);
    }
    context.globalAlpha = 1;
  }
  const grown = (time - moments.crack) / 0.5;
  // Times are multiples of a frame's length, which binary numbers cannot always hit exactly.
  if (grown > -1e-6) {
    const shown = crackPath.slice(0, Math.max(2, Math.ceil(Math.min(1, grown) * crackPath.length)));
    if (time < moments.slabLetsGo + 0.2) line(context, shown, '#0c1518', 3);
    // The first frame of the crack flashes.
    if (time - moments.crack < 0.08) {
      context.globalAlpha = 0.75;
      context.fillStyle = '#ece5d6';
      context.fillRect(0, 0, width, height);
      context.globalAlpha = 1;
    }
  }
  const surface: Point[] = [[330, 360]];
  for (let x = 330; x <= width; x += 10)
    surface.push([x, 322 - swell * Math.exp(-(((x - 430) / 110) ** 2)) + 2 * Math.sin(x / 18 + time * 2)]);
  surface.push([width, 360]);
  polygon(context, surface, '#0f3a49');
  if (sinceRise > -1e-6 && sinceRise < 1.6) {
    context.fillStyle = '#ece5d6';
    for (let i = 0; i < 46; i++) {
      const speed = 60 + 120 * positive(scatter(i + 30));
      const x = 430 + (positive(scatter(i + 60)) - 0.5) * 260 * sinceRise;
      const y = 318 - speed * sinceRise + 110 * sinceRise * sinceRise;
      if (y < 330) context.fillRect(x, y, 3, 3);
    }
  }
}

/** Turns of the drill since the scene began: it spins up, runs, and spins down. */
function drillTurns(time: number): number {
  const full = 6;
  const up = moments.drillRuns - moments.drillOn;
  const t = time - moments.drillOn;
  if (t <= 0) return 0;
  const rising = Math.min(t, up);
  const stop = moments.drillOff - moments.drillOn;
  const running = Math.max(0, Math.min(t, stop) - up);
  const falling = Math.max(0, Math.min(t - stop, 2));
  return (full * rising * rising) / (2 * up) + full * running + full * (falling - (falling * falling) / 4);
}

function drawDrill(context: PictureContext, time: number): void {
  polygon(
    context,
    [
      [0, 270],
      [640, 262],
      [640, 360],
      [0, 360],
    ],
    '#a9c8cc',
  );
  drawBeacon(context, time);
  const turns = drillTurns(time);
  const shake = time > moments.drillOn && time < moments.drillOff ? 1.5 * Math.sin(time * 190) : 0;
  line(
    context,
    [
      [270, 272],
      [320, 70],
      [370, 272],
    ],
    '#cf9463',
    6,
  );
  line(
    context,
    [
      [292, 180],
      [348, 180],
    ],
    '#cf9463',
    4,
  );
  context.fillStyle = '#22363c';
  context.fillRect(296 + shake, 92, 48, 40);
  context.fillStyle = time > moments.drillOn && time < moments.drillOff ? '#f0b429' : '#5a3a34';
  context.fillRect(302 + shake, 98, 8, 8);
  context.fillStyle = '#d8d2c4';
  context.fillRect(314 + shake, 132, 12, 150);
  for (let i = 0; i < 12; i++) {
    const y = 134 + ((i * 14 + positive(turns) * 14) % 148);
    line(
      context,
      [
        [314 + shake, y],
        [326 + shake, y + 7],
      ],
      '#4c5f60',
      3,
    );
  }
  context.fillStyle = '#ece5d6';
  const throwing = time > moments.drillOn + 0.6 && time < moments.drillOff + 0.5;
  if (throwing)
    for (let i = 0; i < 24; i++) {
      const phase = positive(time * 1.7 + scatter(i));
      context.globalAlpha = 1 - phase;
      context.fillRect(320 + (positive(scatter(i + 9)) - 0.5) * 150 * phase, 276 - 46 * phase + 60 * phase * phase, 3, 3);
    }
  context.globalAlpha = 1;
}

function drawSteps(context: PictureContext, time: number): void {
  polygon(
    context,
    [
      [0, 280],
      [640, 268],
      [640, 360],
      [0, 360],
    ],
    '#c9dee0',
  );
  const stepTime = 0.5;
  const x = 90 + time * 105;
  const phase = positive(time / stepTime);
  const lift = Math.sin(phase * Math.PI);
  for (let n = 0; n <= Math.floor(time / stepTime); n++) {
    context.fillStyle = '#8fb4bb';
    context.fillRect(88 + n * stepTime * 105, 282 + (n % 2) * 5, 16, 4);
  }
  const swing = 16 * Math.cos(Math.PI * (time / stepTime));
  line(
    context,
    [
      [x, 232],
      [x + swing, 281 - lift * 6],
    ],
    '#22363c',
    8,
  );
  line(
    context,
    [
      [x, 232],
      [x - swing, 281],
    ],
    '#19292e',
    8,
  );
  context.fillStyle = '#cf9463';
  context.fillRect(x - 13, 178 - lift * 2, 26, 58);
  context.fillStyle = '#ece5d6';
  context.beginPath();
  context.arc(x, 165 - lift * 2, 13, 0, 2 * Math.PI);
  context.fill();
}

function drawRadio(context: PictureContext, time: number): void {
  polygon(
    context,
    [
      [0, 300],
      [640, 300],
      [640, 360],
      [0, 360],
    ],
    '#19292e',
  );
  context.fillStyle = '#22363c';
  context.fillRect(210, 130, 220, 150);
  context.fillStyle = '#0c1518';
  context.fillRect(230, 150, 110, 110);
  line(
    context,
    [
      [410, 130],
      [440, 40],
    ],
    '#ece5d6',
    3,
  );
  const speaking = time > 0.12 && time < 1.75;
  for (let i = 0; i < 9; i++) {
    const level = speaking ? 12 + 40 * positive(scatter(i + Math.floor(time * 12) * 17)) : 3;
    context.fillStyle = '#9dbf72';
    context.fillRect(238 + i * 11, 205 - level, 7, level * 2);
  }
  context.fillStyle = speaking ? '#ff7b61' : '#5a3a34';
  context.beginPath();
  context.arc(390, 168, 9, 0, 2 * Math.PI);
  context.fill();
}
