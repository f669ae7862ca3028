/** The typed client: throws on errors instead of returning them, and sends the CSRF token. */
import createClient, { type Middleware } from 'openapi-fetch'
import { sessionEnded } from './again'
import { noteBuild } from './build'
import { answered, keyFor, printOf } from './once'
import type { components, paths } from './schema'

export type Schemas = components['schemas']

/** The API's one error shape. */
export interface ErrorBody {
  code: string
  message: string
  fields: Record<string, string[]>
  where: { line: number | null; column: string | null; expected: string } | null
  /** What stands there now, when somebody else wrote first. */
  current?: Current | null
}

/** The present state of a fact that two people changed. */
export interface Current {
  version: number
  who: string
  at: string | null
  values: Record<string, unknown>
}

export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly body: ErrorBody,
  ) {
    super(body.message)
  }
}

export function csrfToken(cookie: string = document.cookie): string {
  const found = cookie.split('; ').find((part) => part.startsWith('csrftoken='))
  return found ? decodeURIComponent(found.slice('csrftoken='.length)) : ''
}

/** Turn an answer that is no success into an ApiError. */
export async function errorOf(response: Response): Promise<ApiError> {
  let body: Partial<ErrorBody> = {}
  try {
    body = (await response.json()) as Partial<ErrorBody>
  } catch {
    // Not JSON: a proxy or a crash; the status has to do.
  }
  return new ApiError(response.status, {
    code: body.code ?? 'unreadable',
    message: body.message ?? `The server answered with status ${response.status}.`,
    fields: body.fields ?? {},
    where: body.where ?? null,
    current: body.current ?? null,
  })
}

const OFFLINE: ErrorBody = {
  code: 'offline',
  message: 'The server cannot be reached. What you typed is still here; try again.',
  fields: {},
  where: null,
}

/** Answers are waited for this long, and never without end; a stop is not among them. */
const ANSWERS_WITHIN_MS = 30_000
const UPLOADED_WITHIN_MS = 300_000

/**
 * JSON for a request. JSON knows no NaN and turns it into null, which would erase what stands
 * there: a number that could not be read is refused here, beside its field, and nothing is sent.
 */
export function asJson(body: unknown): string {
  const fields: Record<string, string[]> = {}
  const text = JSON.stringify(body, function (this: unknown, key: string, value: unknown) {
    if (typeof value === 'number' && !Number.isFinite(value))
      fields[key] = ['This is no number; nothing was changed.']
    return value
  })
  const [first] = Object.keys(fields)
  if (first === undefined) return text
  throw new ApiError(400, {
    code: 'not_a_number',
    message: `What was typed for ${first.replaceAll('_', ' ')} is no number; nothing was changed.`,
    fields,
    where: null,
  })
}

/** What was sent, as long as it may have to be sent again: a body can be read once only. */
const copies = new Map<string, Request>()
/** What was posted, in the words its key stands for. */
const posted = new Map<string, string>()

async function noteAnswer(sent: string, response: Response): Promise<void> {
  const under = response.status === 409 && (await errorOf(response.clone())).body.code
  answered(sent, response.status, under === 'still_under_way')
}

const middleware: Middleware = {
  async onRequest({ request, id }) {
    if (!['GET', 'HEAD'].includes(request.method)) request.headers.set('X-CSRFToken', csrfToken())
    if (request.method === 'POST') {
      const sent = `${request.url}\n${await request.clone().text()}`
      request.headers.set('Idempotency-Key', keyFor(sent))
      posted.set(id, sent)
    }
    copies.set(id, request.clone())
    return request
  },
  async onResponse({ response, id, schemaPath }) {
    noteBuild(response)
    const copy = copies.get(id)
    copies.delete(id)
    let final = response
    if (response.status === 401 && copy && schemaPath !== '/api/v1/session/') {
      if (await sessionEnded()) {
        if (copy.headers.has('X-CSRFToken')) copy.headers.set('X-CSRFToken', csrfToken())
        final = await fetch(copy)
      }
    }
    const sent = posted.get(id)
    posted.delete(id)
    if (sent !== undefined) await noteAnswer(sent, final)
    if (!final.ok) throw await errorOf(final)
    return final
  },
  onError({ error, id }) {
    copies.delete(id)
    posted.delete(id)
    return error instanceof ApiError ? error : new ApiError(0, OFFLINE)
  },
}

export const api = createClient<paths>({
  baseUrl: '',
  bodySerializer: asJson,
  fetch: (request) =>
    fetch(request, {
      signal: AbortSignal.any([request.signal, AbortSignal.timeout(ANSWERS_WITHIN_MS)]),
    }),
})
api.use(middleware)

/** Send one part of a large file as it is; a slow line may take its minutes. */
export async function sendPart(id: number, index: number, part: Blob): Promise<void> {
  await api.PUT('/api/v1/imports/large/{id}/parts/{index}/', {
    params: { path: { id, index } },
    body: part as never,
    bodySerializer: (body) => body,
    headers: { 'Content-Type': 'application/octet-stream' },
    fetch: (request) => fetch(request, { signal: AbortSignal.timeout(UPLOADED_WITHIN_MS) }),
  })
}

/** The data of an answer that cannot be an error any more. */
export function dataOf<T>(answer: { data?: T }): T {
  return answer.data as T
}

/** One try at an upload; only this way does a browser say how much of it is on its way. */
function upload(
  path: string,
  form: FormData,
  key: string,
  sent?: (percent: number) => void,
): Promise<Response> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest()
    const away = () => reject(new ApiError(0, OFFLINE))
    request.open('POST', path)
    request.setRequestHeader('X-CSRFToken', csrfToken())
    request.setRequestHeader('Idempotency-Key', key)
    request.timeout = UPLOADED_WITHIN_MS
    request.upload.onprogress = ({ loaded, total }) => {
      if (total) sent?.(Math.round((100 * loaded) / total))
    }
    request.onload = () => resolve(new Response(request.responseText, { status: request.status }))
    request.onerror = away
    request.ontimeout = away
    request.send(form)
  })
}

/** Send a form with a file, and say how much of it is sent [%]; outside the typed client. */
export async function sendForm<T>(
  path: string,
  form: FormData,
  sent?: (percent: number) => void,
): Promise<T> {
  const print = printOf(path, form)
  const key = keyFor(print)
  let response = await upload(path, form, key, sent)
  if (response.status === 401 && (await sessionEnded()))
    response = await upload(path, form, key, sent)
  await noteAnswer(print, response)
  if (!response.ok) throw await errorOf(response)
  return (await response.json()) as T
}

/** The sentence to show for anything that was thrown. */
export function sentenceOf(error: unknown): string {
  return error instanceof Error ? error.message : 'Something went wrong.'
}

/** Whether the server could not be reached at all: worth another try, unchanged. */
export function isOffline(error: unknown): boolean {
  return error instanceof ApiError && error.status === 0
}

/** What stands there now, when a write was refused because somebody else wrote first. */
export function currentOf(error: unknown): Current | null {
  const known = error instanceof ApiError && error.body.code === 'changed_meanwhile'
  return known ? (error.body.current ?? null) : null
}

/** What a thing is part of by now, when it was on the bench twice. */
export function mergedInto(error: unknown): number | null {
  const known = error instanceof ApiError && error.body.code === 'merged'
  const now: unknown = known ? error.body.current : null
  return now !== null && typeof now === 'object' && 'stays' in now ? Number(now.stays) : null
}

/** The first message for a field, if the error has one. */
export function fieldMessage(error: unknown, field: string): string {
  return error instanceof ApiError ? (error.body.fields[field]?.[0] ?? '') : ''
}
