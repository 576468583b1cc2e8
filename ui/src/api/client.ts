import createClient from 'openapi-fetch';
import { ref } from 'vue';

import { refusal, Refused, unreachable } from './refused';
import { whenReady } from './when-ready';

import type { components, paths } from './schema';

type Schemas = components['schemas'];

export type Plan = Schemas['Plan'];
export type PlanView = Schemas['PlanView'];
export type PlanSummary = Schemas['PlanSummary'];
export type ShownOut = Schemas['ShownOut'];
export type PlanList = Schemas['PlanList'];
export type DamagedPlan = Schemas['DamagedPlan'];
export type PlanWorkings = Schemas['PlanWorkings'];
export type CoatWorkings = Schemas['CoatWorkings'];
export type Coat = Schemas['Coat'];
export type HandStep = Schemas['HandStep'];
export type Step = Coat | HandStep;
export type HandWorkings = Schemas['HandWorkings'];
export type Layer = Schemas['LayerView'];
export type Finding = Schemas['Finding'];
export type Chip = Schemas['Chip'];
export type PaintOnShelf = Schemas['PaintOnShelf'];
export type ThinnerOnShelf = Schemas['ThinnerOnShelf'];
export type Compressor = Schemas['Compressor'];
export type ShelfScreenData = Schemas['ShelfScreen'];
export type ImportPreview = Schemas['ImportPreview'];
export type NamedPaint = Schemas['NamedPaint'];
export type BulkChange = Schemas['BulkChange'];
export type StrengthOut = Schemas['StrengthOut'];
export type MixLook = Schemas['MixLook'];
export type MixPart = Schemas['MixPart'];
export type MixesOut = Schemas['MixesOut'];
export type MixOut = Schemas['MixOut'];
export type LadderOut = Schemas['LadderOut'];
export type RungOut = Schemas['RungOut'];
export type RungsOut = Schemas['RungsOut'];
export type SampleOut = Schemas['SampleOut'];
export type Schools = Schemas['Schools'];
export type StartedOut = Schemas['StartedOut'];
export type OrdersOut = Schemas['OrdersOut'];
export type PrimingOut = Schemas['PrimingOut'];
export type PrimingWay = Schemas['PrimingWay'];
export type Station = Schemas['StationAt'];
export type PaintUsed = Schemas['PaintUsed'];
export type ThinnerUsed = Schemas['ThinnerUsed'];
export type AirbrushUsed = Schemas['AirbrushUsed'];
export type Shelf = Schemas['Shelf'];
export type JobView = Schemas['JobView'];
export type MeshTaken = Schemas['MeshTaken'];
export type MeshView = Schemas['MeshView'];
export type Caution = Schemas['Caution'];
export type Problem = Schemas['Problem'];
export type DayView = Schemas['DayView'];
export type DayDoc = Schemas['DayDoc'];
export type DayRow = Schemas['Row'];
export type DayLane = Schemas['LaneView'];
export type DayWish = Schemas['Wish'];
export type BoothView = Schemas['BoothView'];
export type BoothStep = Schemas['BoothStep'];
export type BoothEvent = Schemas['EventIn'];
export type StoredEvent = Schemas['EventOut'];
export type Unreadable = Schemas['Unreadable'];
export type TabletsView = Schemas['TabletsView'];
export type DevicesView = Schemas['DevicesView'];
export type DriveBody = Schemas['DriveBody'];
export type DriftOut = Schemas['DriftOut'];
export type DayFigures = Schemas['Figures'];
export type Aim = Schemas['Aim'];
export type KeyLight = Schemas['KeyLight'];
export type GlowLight = Schemas['GlowLight'];
export type Light = Plan['lights'][number];
export type Part = Schemas['Part'];
export type PartView = Schemas['PartView'];
export type Sector = Schemas['BlockedSector'];
export type PartAdvice = Schemas['PartAdvice'];
export type AnglesOut = Schemas['AnglesOut'];
export type LightStudy = Schemas['LightStudy'];
export type LightsOut = Schemas['LightsOut'];
export type Shares = Schemas['Shares'];
export type StandIn = Schemas['StandIn'];
export type StandInView = Schemas['StandInView'];
export type Look = Schemas['ColoursBody']['look'];
export type Notebook = Schemas['Notebook'];
export type CardView = Schemas['CardView'];
export type PracticeView = Schemas['PracticeView'];
export type PracticeJudged = Schemas['PracticeJudged'];
export type PracticeStanding = Schemas['PracticeStanding'];
export type ChangeJudged = Schemas['ChangeJudged'];
export type PracticeChange = ChangeJudged['change'];
export type PiecePhotoView = Schemas['PiecePhotoView'];
export type PointPair = Schemas['PointPair'];
export type PieceMarks = Schemas['Marks'];
export type Compared = Schemas['Compared'];
export type WouldTeach = Schemas['WouldTeach'];
export type CardPhotoView = Schemas['CardPhotoView'];
export type TrashedPhoto = Schemas['TrashedPhoto'];
export type CardRead = Schemas['CardRead'];
export type CardsView = Schemas['CardsView'];
export type CardTaught = Schemas['CardTaught'];
export type LookShare = Schemas['LookShare'];
export type MeasureOut = Schemas['MeasureOut'];
export type SessionLine = Schemas['SessionLine'];
export type SessionView = Schemas['SessionView'];
export type CoatDone = Schemas['CoatDone'];
export type PairTaught = Schemas['PairTaught'];
export type PhotoView = Schemas['PhotoView'];
export type KnownList = Schemas['KnownList'];
export type KnownPage = Schemas['KnownPage'];
export type FileLook = Schemas['FileLook'];
export type TakenIn = Schemas['TakenIn'];
export type DataView = Schemas['DataView'];
export type CheckOut = Schemas['CheckOut'];
export type AgainBody = Schemas['DoAgainBody'];
export type AgainOut = Schemas['DoAgainOut'];
export type Difference = Schemas['Difference'];
export type WindowOut = Schemas['WindowOut'];
export type KnownSetting = Schemas['KnownSetting'];
export type TurnedBody = Schemas['TurnedBody'];
export type Known = Schemas['Known'];
export type Taught = Schemas['Taught'];
export type TrialLook = Schemas['TrialBody']['look'];
export type TroubleOut = Schemas['TroubleOut'];
export type Role = Schemas['PouredView']['role'];
export type Symptom = Schemas['TroubleOfBody']['symptom'];
export type SchoolsOut = Schemas['SchoolsOut'];
export type AmountsOut = Schemas['AmountsOut'];
export type PremixOut = Schemas['PremixOut'];
export type SprayAt = Schemas['SprayAt'];
export type Additive = Schemas['Additive'];

export { Refused };
export { preparing } from './when-ready';
export const api = createClient<paths>({
  baseUrl: '',
  fetch: (request) => whenReady(() => fetch(request.clone()), request.signal),
});

/** This page's name: it need not hear of what it did itself. */
export const PAGE = Math.random().toString(36).slice(2);
const PAGE_HEADER = 'X-Page';

/** Codes of what keeps every change from being saved, until somebody sees to it. */
const STANDING = ['disk_full', 'read_only', 'damaged', 'busy', 'disk'];
/** Why nothing can be saved just now; empty when it can. */
export const trouble = ref('');

/** Whether an answer shows that something was written; work that is given up writes nothing. */
function wrote(request: Request, response: Response): boolean {
  if (request.url.includes('/api/jobs/')) return false;
  return ['PUT', 'DELETE'].includes(request.method) || response.status === 201;
}

api.use({
  onRequest({ request }) {
    request.headers.set(PAGE_HEADER, PAGE);
    return request;
  },
  async onResponse({ request, response }) {
    if (response.ok) {
      if (wrote(request, response)) trouble.value = '';
    } else if (response.status === 503 || response.status === 507) {
      const problem = (await response
        .clone()
        .json()
        .catch(() => ({}))) as Partial<Problem>;
      if (STANDING.includes(problem.code ?? '')) trouble.value = problem.detail ?? '';
    }
    return undefined;
  },
});

/** The data of an answer, or `Refused` with one sentence. */
export async function take<T>(
  answer: Promise<{ data?: T; error?: unknown; response: Response }>,
): Promise<T> {
  let done;
  try {
    done = await answer;
  } catch (error) {
    throw error instanceof Refused ? error : unreachable();
  }
  if (done.response.ok && done.data !== undefined) return done.data;
  throw refusal(done.response.status, done.error);
}

/** Bytes from the server: geometry or colours. */
export async function takeAnswer(path: string, init?: RequestInit): Promise<Response> {
  let response: Response;
  try {
    const headers = new Headers(init?.headers);
    headers.set(PAGE_HEADER, PAGE);
    const signal = init?.signal ?? new AbortController().signal;
    response = await whenReady(() => fetch(path, { ...init, headers }), signal);
  } catch (error) {
    if (error instanceof Refused) throw error;
    if (error instanceof DOMException && error.name === 'AbortError') throw error;
    throw unreachable();
  }
  if (!response.ok) throw refusal(response.status, await response.json().catch(() => null));
  return response;
}

export async function takeBytes(path: string, init?: RequestInit): Promise<ArrayBuffer> {
  return (await takeAnswer(path, init)).arrayBuffer();
}

/** Send a file as it is; what the server tells of it. */
async function sendBytes<T>(path: string, file: Blob): Promise<T> {
  const bytes = await takeBytes(path, {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: file,
  });
  return JSON.parse(new TextDecoder().decode(bytes)) as T;
}
/** Look into a file of plans before it is taken in. */
export const sendFile = (file: File): Promise<FileLook> => sendBytes('/api/files', file);
/** Add a photo to a session of the notebook. */
export const sendPhoto = (session: string, file: File): Promise<PhotoView> =>
  sendBytes(`/api/photos?session=${session}`, file);
/** A photo of a trial card, read by the server; nothing is learned from it yet. */
export const sendCardPhoto = (file: Blob): Promise<CardPhotoView> =>
  sendBytes('/api/cards/photos', file);
/** A photo of the painted piece of a plan. */
export const sendPiecePhoto = (plan: string, file: Blob): Promise<PiecePhotoView> =>
  sendBytes(`/api/piece-photos?plan=${plan}`, file);

/** A picture the server draws of something. */
export async function takePicture(path: string, body: unknown): Promise<Blob> {
  const bytes = await takeBytes(path, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  });
  return new Blob([bytes], { type: 'image/png' });
}

export function sentence(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}

/** Send a mesh file; progress runs from 0 to 1. The job that checks and keeps it. */
export function sendMesh(
  file: File,
  progress: (share: number) => void,
  signal: AbortSignal,
): Promise<JobView> {
  // fetch tells nothing of an upload's progress
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open('POST', `/api/meshes?name=${encodeURIComponent(file.name.slice(0, 200))}`);
    request.setRequestHeader('Content-Type', 'application/octet-stream');
    request.upload.onprogress = (event) => progress(event.loaded / Math.max(event.total, 1));
    request.onerror = () => reject(unreachable());
    request.onload = () => {
      let body: unknown = null;
      try {
        body = JSON.parse(request.responseText);
      } catch {
        body = null;
      }
      if (request.status === 200) resolve(body as JobView);
      else reject(refusal(request.status, body));
    };
    request.onabort = () => reject(new Refused('Stopped. Nothing was changed.', 0, 'cancelled'));
    signal.addEventListener('abort', () => request.abort(), { once: true });
    request.send(file);
  });
}
