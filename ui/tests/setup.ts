import { answer } from './server';

globalThis.fetch = answer;
