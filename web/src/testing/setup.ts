import 'fake-indexeddb/auto';
import { setupZonelessTestEnv } from 'jest-preset-angular/setup-env/zoneless';

setupZonelessTestEnv();

// jsdom draws nothing; components must live without a context.
HTMLCanvasElement.prototype.getContext = () => null;

// jsdom lays nothing out, so there is nothing to scroll.
Element.prototype.scrollIntoView = () => undefined;
Element.prototype.scrollTo = () => undefined;
