/** Registers its processor where it finds itself in a worklet; nothing else of it is used. */
declare module 'signalsmith-stretch';
