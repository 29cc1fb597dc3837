/** A tiny game that ships with the demo: somebody walks over Halda's ice and hears it, by the package that any game may use. */
import { load } from '@tangled-choir/player';

const find = <T extends HTMLElement>(id: string): T => document.getElementById(id) as T;
const [told, field, log] = [find('told'), find<HTMLCanvasElement>('field'), find('log')];
const [start, drill, radio, moves, wind] = [
  find<HTMLButtonElement>('start'),
  find<HTMLButtonElement>('drill'),
  find<HTMLButtonElement>('radio'),
  find<HTMLButtonElement>('moves'),
  find<HTMLInputElement>('wind'),
];

/** Pixels of a metre, metres of a step, and how far one turns at a time. */
const scale = 14;
const stride = 0.7;
const turn = 15;
/** East of here the snow is powder. */
const powderFrom = 4;

const player = await load('conduct.json', { processor: new URL('processor.js', document.baseURI) }).catch((error: unknown) => {
  told.textContent = error instanceof Error ? error.message : String(error);
  throw error;
});
const walker = { x: -6, y: -4, facing: 40 };
const drillPlace = player.data.behaviours.find(({ name }) => name === 'Core drill')?.place ?? { x: 11, y: 7 };
const icePlace = player.data.behaviours.find(({ name }) => name === 'Ice talks')?.place ?? { x: -9, y: 8 };

player.onlog = (entries) => {
  for (const entry of entries) {
    if (!('behaviour' in entry)) continue;
    const line = document.createElement('li');
    line.textContent = `${entry.at.toFixed(3)} ${entry.do} ${entry.behaviour}${entry.do === 'play' ? `: ${entry.asset}` : ''}`;
    log.prepend(line);
  }
  while (log.childElementCount > 200) log.lastElementChild?.remove();
};

function draw(): void {
  const context = field.getContext('2d')!;
  const place = ({ x, y }: { readonly x: number; readonly y: number }): [number, number] => [
    field.width / 2 + x * scale,
    field.height / 2 - y * scale,
  ];
  context.clearRect(0, 0, field.width, field.height);
  context.fillStyle = '#19292e';
  context.fillRect(place({ x: powderFrom, y: 0 })[0], 0, field.width, field.height);
  context.font = '12px system-ui';
  for (const [name, where, colour] of [
    ['core drill', drillPlace, '#7aa6e8'],
    ['ice that talks', icePlace, '#7fc8da'],
  ] as const) {
    const [x, y] = place(where);
    context.fillStyle = colour;
    context.beginPath();
    context.arc(x, y, 8, 0, 2 * Math.PI);
    context.fill();
    context.fillText(name, x + 14, y + 4);
  }
  context.fillStyle = '#9cafae';
  context.fillText('crust', 12, field.height - 12);
  context.fillText('powder', field.width - 60, field.height - 12);
  const [x, y] = place(walker);
  context.save();
  context.translate(x, y);
  context.rotate((walker.facing * Math.PI) / 180);
  context.fillStyle = '#ece5d6';
  context.beginPath();
  context.moveTo(0, -12);
  context.lineTo(8, 9);
  context.lineTo(-8, 9);
  context.fill();
  context.restore();
}

function hearFromHere(): void {
  player.listener(walker.x, walker.y, walker.facing);
  draw();
}

function walk(): void {
  const way = (walker.facing * Math.PI) / 180;
  walker.x = Math.max(-26, Math.min(26, walker.x + stride * Math.sin(way)));
  walker.y = Math.max(-16, Math.min(16, walker.y + stride * Math.cos(way)));
  hearFromHere();
  player.set('Powder', walker.x > powderFrom ? 1 : 0);
  player.trigger('Steps on snow');
}

function switchDrill(): void {
  const on = drill.getAttribute('aria-pressed') !== 'true';
  drill.setAttribute('aria-pressed', String(on));
  if (on) player.trigger('Core drill');
  else player.stop('Core drill');
}

start.addEventListener('click', () => {
  void player.resume();
  hearFromHere();
  player.set('Wind', Number(wind.value));
  player.trigger('Wind');
  player.trigger('Ice talks');
  start.disabled = true;
  for (const each of [drill, radio, moves, wind]) each.disabled = false;
  told.textContent = 'Walk: what you hear is decided by conduct.json.';
  field.focus();
});
drill.addEventListener('click', switchDrill);
radio.addEventListener('click', () => player.trigger('Radio call'));
wind.addEventListener('input', () => player.set('Wind', Number(wind.value)));
field.addEventListener('keydown', (event) => {
  if (!start.disabled) return;
  if (event.key === 'ArrowUp') walk();
  else if (event.key === 'ArrowLeft' || event.key === 'ArrowRight') {
    walker.facing += event.key === 'ArrowLeft' ? -turn : turn;
    hearFromHere();
  } else if (event.key.toLowerCase() === 'd') switchDrill();
  else return;
  event.preventDefault();
});
moves.addEventListener('click', () => {
  const script = { seconds: player.now, moves: player.moves };
  const link = document.createElement('a');
  link.href = URL.createObjectURL(new Blob([JSON.stringify(script)], { type: 'application/json' }));
  link.download = 'moves.json';
  link.click();
  URL.revokeObjectURL(link.href);
});

draw();
told.textContent = 'Press “Begin”.';
start.disabled = false;
