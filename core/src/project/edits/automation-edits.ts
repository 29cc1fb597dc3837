import { findProperty, isAutomatable } from '../address';
import { axisOf, toAxis } from '../axis';
import { fitValue } from '../parameters';
import type { AutomationLane, AutomationPoint, Project, Sound } from '../schema';
import type { EffectCatalogue, NumberParameter } from '../parameters';
import { defineEdit, EditError, soundOf, takeId } from './edit';

export interface LaneArguments {
  readonly sound: string;
  readonly lane: string;
}

export const mostPoints = 20_000;

function laneOf(sound: Sound, laneId: string): AutomationLane {
  const lane = sound.automation.find((candidate) => candidate.id === laneId);
  if (!lane) throw new EditError(`There is no automation lane “${laneId}” in “${sound.name}”.`);
  return lane;
}

/** “Deep crack: gain”, for undo labels. */
export function propertyName(sound: Sound, address: string, catalogue: EffectCatalogue): string {
  const property = findProperty(sound, address, catalogue);
  return property ? `${property.owner}: ${property.parameter.label.toLowerCase()}` : address;
}

function laneName({ sound, lane }: LaneArguments, project: Project, catalogue: EffectCatalogue): string {
  const target = soundOf(project, sound);
  return propertyName(target, laneOf(target, lane).address, catalogue);
}

/** The axis that a property moves along, and where on it its dial has it. */
function axisAt(sound: Sound, address: string, catalogue: EffectCatalogue): { axis: NumberParameter; value: number } {
  const property = findProperty(sound, address, catalogue);
  const axis = property && isAutomatable(property) ? axisOf(property.parameter) : undefined;
  if (!property || !axis) throw new EditError(`“${propertyName(sound, address, catalogue)}” cannot be automated.`);
  return { axis, value: toAxis(property.parameter, property.value) };
}

/** Gives a property a lane, with one point that holds its value. */
export const addAutomation = defineEdit<{ sound: string; address: string }>({
  label: ({ sound, address }, project, catalogue) => `Automate ${propertyName(soundOf(project, sound), address, catalogue)}`,
  apply: (draft, { sound, address }, catalogue) => {
    const target = soundOf(draft, sound);
    const { axis, value } = axisAt(target, address, catalogue);
    if (target.automation.some((lane) => lane.address === address))
      throw new EditError(`“${propertyName(target, address, catalogue)}” is automated already.`);
    const points = [{ time: 0, value, bend: 0 }];
    target.automation.push({ id: takeId(draft, 'lane'), address, enabled: true, stepped: axis.names !== undefined, trim: 0, points });
  },
});

/** Takes a lane away; the property is again what its dial says. */
export const removeAutomation = defineEdit<LaneArguments>({
  label: (args, project, catalogue) => `End automation of ${laneName(args, project, catalogue)}`,
  apply: (draft, { sound, lane }) => {
    const target = soundOf(draft, sound);
    target.automation.splice(target.automation.indexOf(laneOf(target, lane)), 1);
  },
});

/** Switches a lane on or off, between smooth and stepped, or trims it as a whole. */
export const setAutomation = defineEdit<LaneArguments & { settings: Partial<Pick<AutomationLane, 'enabled' | 'stepped' | 'trim'>> }>({
  label: (args, project, catalogue) => {
    const name = laneName(args, project, catalogue);
    if (args.settings.trim !== undefined) return `Trim ${name}`;
    if (args.settings.stepped !== undefined) return `${args.settings.stepped ? 'Steps' : 'Smooth'}: ${name}`;
    return `Automation ${args.settings.enabled ? 'on' : 'off'}: ${name}`;
  },
  apply: (draft, { sound, lane, settings }) => {
    const target = laneOf(soundOf(draft, sound), lane);
    Object.assign(target, settings);
    target.trim = Math.max(-1_000, Math.min(1_000, target.trim));
  },
});

/** Gives a lane another course; `action` names what was done: “Draw”, “Thin”. Points are put in order and fitted into the range. */
export const setAutomationPoints = defineEdit<LaneArguments & { points: readonly AutomationPoint[]; action: string }>({
  label: (args, project, catalogue) => `${args.action}: ${laneName(args, project, catalogue)}`,
  apply: (draft, { sound, lane, points }, catalogue) => {
    const found = soundOf(draft, sound);
    const target = laneOf(found, lane);
    if (points.length === 0) throw new EditError('An automation lane needs one point at least.');
    if (points.length > mostPoints)
      throw new EditError(`That would be ${points.length} points; a lane holds ${mostPoints}. Thin it, or choose a shorter stretch.`);
    const { axis } = axisAt(found, target.address, catalogue);
    target.points = points
      .map(({ time, value, bend }) => ({
        time: Math.max(0, time),
        value: Number(fitValue(axis, value)),
        bend: Math.max(-1, Math.min(1, bend)),
      }))
      .sort((a, b) => a.time - b.time);
  },
});
