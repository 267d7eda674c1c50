/** The one way to the server. */
import createClient from 'openapi-fetch'
import { readMarks } from './marks'
import type { paths } from './schema'
import type {
  Answer,
  Calls,
  Figure,
  FigureDocument,
  Plate,
  PlateDocument,
  Job,
  Marks,
  ProblemDetails,
  ResidualsAgainst,
  ShareRequest,
  Upload,
} from './types'

/** What the server, or the way to it, refused; its message is a sentence for a person. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    title: string,
    readonly detail = '',
    readonly position: number | null = null,
  ) {
    super(title)
  }

  get sentence(): string {
    return `${this.message} ${this.detail}`.trim()
  }
}

const UNREACHABLE = new Problem(
  0,
  'The server cannot be reached.',
  'Start it again with the command that started it; nothing on this page is lost.',
)

const reach: typeof fetch = async (input, init) => {
  try {
    return await fetch(input, init)
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') throw error
    throw UNREACHABLE
  }
}

const client = createClient<paths>({ baseUrl: '/', fetch: (request) => reach(request) })

function problemOf(status: number, details: unknown): Problem {
  const { title, detail, position } = (details ?? {}) as Partial<ProblemDetails>
  return new Problem(status, title ?? `The server answered ${status}.`, detail, position)
}

interface Result {
  data?: unknown
  error?: unknown
  response: Response
}

/** What the server sends is complete, whatever the schema says of defaults. */
async function take<T>(result: Promise<Result>): Promise<T> {
  const { data, error, response } = await result
  if (!response.ok) throw problemOf(response.status, error)
  return data as T
}

const LOOK_EVERY_MS = 120

/**
 * Waits for work that the server does in the background, and returns what comes of it.
 *
 * @param listen is told the share that is done
 * @param signal stops the work
 */
async function finished<T>(
  started: Promise<Result>,
  listen: (share: number) => void,
  signal: AbortSignal,
): Promise<T> {
  let job = await take<Job>(started)
  const at = { params: { path: { job_id: job.id } } }
  while (job.state === 'running') {
    if (signal.aborted) job = await take<Job>(client.DELETE('/api/jobs/{job_id}', at))
    else {
      listen(job.progress)
      await new Promise((resolve) => setTimeout(resolve, LOOK_EVERY_MS))
      job = await take<Job>(client.GET('/api/jobs/{job_id}', at))
    }
  }
  if (job.state === 'stopped') throw new DOMException('stopped', 'AbortError')
  if (job.problem) throw problemOf(job.problem.status, job.problem)
  return job.result as T
}

export { client, finished, take }

/** Between which values each axis is in view. */
export type SeenEnds = Record<'x' | 'y', readonly [number, number]>

/** Sends a document and gets everything needed to draw it. */
export async function askAnswer(
  document: FigureDocument,
  options: {
    mostMarks?: number
    /** Of a dataset: what is in view. */
    seen?: SeenEnds | null
    signal?: AbortSignal
    listen?: (share: number) => void
  } = {},
): Promise<{ answer: Answer; marks: Marks }> {
  const { mostMarks, seen } = options
  const query = new URLSearchParams(mostMarks ? { most_marks: String(mostMarks) } : {})
  for (const side of ['x', 'y'] as const)
    for (const end of seen?.[side] ?? []) query.append(`seen_${side}`, String(end))
  const asked = query.size ? `/api/answers?${query}` : '/api/answers'
  const parts = await askParts(asked, document, options)
  return { answer: await jsonOf<Answer>(parts, 'answer'), marks: await marksOf(parts) }
}

/** Asks for a figure of the residuals of a trend. */
export async function askResiduals(
  asked: { document: FigureDocument; trend: number; against: ResidualsAgainst },
  signal: AbortSignal,
): Promise<{ document: FigureDocument; answer: Answer; marks: Marks }> {
  const parts = await askParts('/api/residuals', asked, { signal })
  return {
    document: await jsonOf<FigureDocument>(parts, 'document'),
    answer: await jsonOf<Answer>(parts, 'answer'),
    marks: await marksOf(parts),
  }
}

/** Sends JSON and gets a file. */
async function fileOf(path: string, body: unknown): Promise<Blob> {
  const response = await reach(path, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  })
  if (!response.ok) throw problemOf(response.status, await response.json().catch(() => null))
  return response.blob()
}

/** Asks for the rows of the first trend with fitted values and residuals, as a file. */
export const askFitted = (document: FigureDocument, format: 'csv' | 'parquet'): Promise<Blob> =>
  fileOf(`/api/fitted?format=${format}`, { document })

/** The calls that make a figure from its table's file. */
export const askCalls = (document: FigureDocument): Promise<Calls> =>
  take<Calls>(client.POST('/api/calls', { body: document }))

/** A figure and its table as one file. */
export const askPackage = (document: FigureDocument): Promise<Blob> =>
  fileOf('/api/packages', document)

/** What is shared as one HTML file. */
export const askPage = (asked: ShareRequest): Promise<Blob> => fileOf('/api/pages', asked)

/**
 * Sends JSON, and takes an answer of several parts.
 *
 * @param options.listen is told the share that is done of what takes longer than a second
 */
async function askParts(
  address: string,
  body: unknown,
  { signal, listen }: { signal?: AbortSignal; listen?: (share: number) => void },
): Promise<FormData> {
  const prefer = listen && { Prefer: 'respond-async, wait=1' }
  const response = await reach(address, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', ...prefer },
    body: JSON.stringify(body),
    signal,
  })
  if (!response.ok) throw problemOf(response.status, await response.json().catch(() => null))
  if (!listen || response.status !== 202) return response.formData()
  const job = (await response.json()) as Job
  const started = Promise.resolve({ data: job, response })
  await finished(started, listen, signal ?? new AbortController().signal)
  const parts = await reach(`/api/jobs/${job.id}/parts`, { signal })
  if (!parts.ok) throw problemOf(parts.status, await parts.json().catch(() => null))
  return parts.formData()
}

const jsonOf = async <T>(parts: FormData, name: string): Promise<T> =>
  JSON.parse(await textOf(parts.get(name))) as T

const marksOf = async (parts: FormData): Promise<Marks> =>
  readMarks(await (parts.get('marks') as File).arrayBuffer())

const textOf = (part: FormDataEntryValue | null): string | Promise<string> =>
  typeof part === 'string' ? part : (part?.text() ?? '')

/** Saves documents of one kind over the revision that was read. */
const saverOf =
  <Document, Saved>(kind: 'figures' | 'plates') =>
  async (id: string, document: Document, revision: number, keepalive: boolean): Promise<Saved> => {
    const response = await reach(`/api/${kind}/${id}`, {
      method: 'PUT',
      headers: { 'Content-Type': 'application/json', 'If-Match': `"${revision}"` },
      body: JSON.stringify(document),
      keepalive,
    })
    if (!response.ok) throw problemOf(response.status, await response.json().catch(() => null))
    return (await response.json()) as Saved
  }

export const saveFigure = saverOf<FigureDocument, Figure>('figures')
export const savePlate = saverOf<PlateDocument, Plate>('plates')

/** Sends a file; `progress` is called with the share sent so far. */
export function sendFile(
  file: File,
  progress: (share: number) => void,
  signal: AbortSignal,
): Promise<Upload> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest()
    request.open('POST', `/api/uploads?name=${encodeURIComponent(file.name)}`)
    request.setRequestHeader('Content-Type', 'application/octet-stream')
    request.responseType = 'json'
    request.upload.onprogress = (event) => progress(event.loaded / Math.max(1, event.total))
    request.onload = () => {
      if (request.status === 201) resolve(request.response as Upload)
      else reject(problemOf(request.status, request.response))
    }
    request.onerror = () => reject(UNREACHABLE)
    request.onabort = () => reject(new DOMException('stopped', 'AbortError'))
    signal.addEventListener('abort', () => request.abort())
    request.send(file)
  })
}
