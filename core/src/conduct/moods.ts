import type { Scene } from './state';
import { framesOf, tick } from './state';

/** Brings the buses to what a mood says; those that it does not name go back to what they have of their own. */
export function callMood(scene: Scene, id: string): void {
  const mood = scene.score.moods.get(id);
  if (!mood) return;
  const ticks = Math.max(1, Math.round(framesOf(scene, mood.fade) / tick));
  for (const [bus, now] of scene.state.buses) {
    now.target = mood.levels[bus] ?? 0;
    now.step = Math.abs(now.target - now.mood) / ticks;
  }
}

/** One tick of the fades of moods, and of buses that go down under others. */
export function moveBuses(scene: Scene): void {
  const { state, score } = scene;
  const sounding = new Set<string>();
  for (const { behaviour, stopping } of state.voices.values()) {
    const bus = stopping ? undefined : score.lines.get(behaviour)?.findLast((each) => each.bus !== undefined)?.bus;
    for (const each of score.busLines.get(bus ?? '') ?? []) sounding.add(each.id);
  }
  for (const [id, now] of state.buses) {
    now.mood = towards(now.mood, now.target, now.step);
    const duck = score.buses.get(id)?.duck;
    const goal = duck && sounding.has(duck.under) ? duck.depth : 0;
    const time = goal < now.duck ? duck?.attack : duck?.release;
    now.duck = towards(now.duck, goal, (Math.abs(duck?.depth ?? 0) * tick) / Math.max(tick, framesOf(scene, time ?? 0)) || Infinity);
  }
}

const towards = (from: number, to: number, step: number): number => (Math.abs(to - from) <= step ? to : from + Math.sign(to - from) * step);
