import { copyChain, FreshNames } from './copies';
import { cleanName, defineEdit, EditError, layerOf, soundOf, takeId, takeOut } from './edit';
import { dropStrangeReferences } from '../chain/references';

const mostTemplates = 500;

/** Keeps the chain, gain and pan of a layer as a template for its role; one of the same name and role is replaced. */
export const saveTemplate = defineEdit<{ sound: string; layer: string; name: string }>({
  label: ({ name }) => `Template “${name}”`,
  apply: (draft, { sound, layer, name }) => {
    const { role, gain, pan, chain } = layerOf(soundOf(draft, sound), layer);
    const names = new FreshNames((kind) => takeId(draft, kind));
    const template = { id: takeId(draft, 'template'), name: cleanName(name), role, gain, pan, chain: copyChain(chain, names) };
    draft.templates = draft.templates.filter((other) => other.name !== template.name || other.role !== role);
    if (draft.templates.length >= mostTemplates) throw new EditError(`The project has ${mostTemplates} templates already.`);
    draft.templates.push(template);
  },
});

/** Gives a layer the role, gain, pan and chain of a template; its clips stay. */
export const applyTemplate = defineEdit<{ sound: string; layer: string; template: string }>({
  label: ({ sound, layer, template }, project) =>
    `“${project.templates.find(({ id }) => id === template)?.name ?? template}” on “${layerOf(soundOf(project, sound), layer).name}”`,
  apply: (draft, { sound, layer, template }) => {
    const found = draft.templates.find((candidate) => candidate.id === template);
    if (!found) throw new EditError(`There is no template “${template}”.`);
    const target = soundOf(draft, sound);
    const changed = layerOf(target, layer);
    takeOut(target, { layer }, changed.chain, [...changed.chain]);
    const names = new FreshNames((kind) => takeId(draft, kind));
    const chain = copyChain(found.chain, names);
    dropStrangeReferences(chain, target, draft.sources);
    Object.assign(changed, { role: found.role, gain: found.gain, pan: found.pan, chain });
  },
});

export const removeTemplate = defineEdit<{ template: string }>({
  label: ({ template }, project) => `Remove template “${project.templates.find(({ id }) => id === template)?.name ?? template}”`,
  apply: (draft, { template }) => {
    draft.templates = draft.templates.filter((candidate) => candidate.id !== template);
  },
});
