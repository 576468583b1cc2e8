import { grainBytes } from './grain';

const bytes = grainBytes();
postMessage(bytes, { transfer: [bytes.buffer] });
