/** What the worklet that measures is told: to measure from now on, to wait, or to forget what it has heard. */
export type LevelsMessage = 'run' | 'hold' | 'afresh';

export const levelsProcessor = 'choir-levels';
