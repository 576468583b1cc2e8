import { answer, Events } from './server';

globalThis.fetch = answer;
globalThis.EventSource = Events as unknown as typeof EventSource;
