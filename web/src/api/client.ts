import type { z } from 'zod'
import { useSettings } from '../stores/settings.ts'
import { useLink } from '../stores/link.ts'
import { useMe } from '../stores/me.ts'

/** An answer that was no success: problem details from the server, or no answer at all. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly body: Record<string, unknown> = {},
  ) {
    super(message)
  }
  /** nothing reached the server, or its database, or nobody is signed in: what was typed is kept and sent again */
  get temporary(): boolean {
    return this.code === 'SIGN_IN_FIRST' || this.status === 0 || this.status === 502 || this.status === 503 || this.status === 429
  }
  get fields(): { path: string; message: string }[] {
    return (this.body.errors as { path: string; message: string }[] | undefined) ?? []
  }
}

export const personHeader = (): Record<string, string> => {
  const { person } = useSettings()
  return person ? { 'x-vectum-person': encodeURIComponent(person) } : {}
}

/**
 * One call of the HTTP interface, its answer read by the schema that core has for it.
 * @throws ApiError for every answer that is no success, and NOT_UNDERSTOOD for one that is not what it should be
 */
export async function api<S extends z.ZodType>(
  path: string,
  /** or the promise of it, where it is loaded while the answer is on its way */
  answer: S | Promise<S>,
  options: { method?: string; body?: unknown; headers?: Record<string, string>; text?: string; signal?: AbortSignal } = {},
): Promise<z.output<S>> {
  const link = useLink()
  let response: Response
  try {
    response = await fetch(`/api${path}`, {
      method: options.method ?? 'GET',
      headers: {
        ...(options.body !== undefined ? { 'content-type': 'application/json' } : {}),
        ...(options.text !== undefined ? { 'content-type': 'text/csv' } : {}),
        ...personHeader(),
        ...options.headers,
      },
      body: options.text ?? (options.body !== undefined ? JSON.stringify(options.body) : undefined),
      signal: options.signal,
    })
  } catch (error) {
    if ((error as Error).name === 'AbortError') throw error
    link.lost('server')
    throw new ApiError(0, 'SERVER_GONE', 'The server does not answer. What you typed is kept here and is sent when it is back.')
  }
  const type = response.headers.get('content-type') ?? ''
  if (!response.ok) {
    const body = type.includes('json') ? ((await response.json()) as Record<string, unknown>) : {}
    if (response.status === 503) link.lost('database')
    else link.found()
    throw refusal(response.status, body, response.statusText)
  }
  link.found()
  return understood(
    await answer,
    await (type.includes('json') ? response.json() : type.includes('octet') ? response.arrayBuffer() : response.text()),
  )
}

/** Problem details (RFC 9457) as an error; whatever else stands there has only its status to tell. */
function refusal(status: number, body: Record<string, unknown>, otherwise: string): ApiError {
  if (body.code === 'SIGN_IN_FIRST') useMe().lost()
  const text = (value: unknown, or: string): string => (typeof value === 'string' ? value : or)
  return new ApiError(status, text(body.code, String(status)), text(body.detail, otherwise), body)
}

function understood<S extends z.ZodType>(answer: S, body: unknown): z.output<S> {
  const parsed = answer.safeParse(body)
  if (parsed.success) return parsed.data
  const [issue] = parsed.error.issues
  throw new ApiError(
    200,
    'NOT_UNDERSTOOD',
    `The server’s answer is not one this screen knows (${issue.path.join('.')}: ${issue.message}). Load the page again; if it stays, server and screen are of different versions.`,
  )
}

/** Uploads a file with progress; `fetch` cannot report it. */
export function upload<S extends z.ZodType>(
  path: string,
  answer: S,
  form: FormData,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<z.output<S>> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest()
    request.open('POST', `/api${path}`)
    for (const [name, value] of Object.entries(personHeader())) request.setRequestHeader(name, value)
    request.responseType = 'json'
    request.upload.onprogress = (event) => event.lengthComputable && onProgress(event.loaded / event.total)
    request.onerror = () =>
      reject(
        new ApiError(0, 'SERVER_GONE', 'The server does not answer. The log is still on your disk; drop it again when the server is back.'),
      )
    request.onabort = () => reject(new DOMException('cancelled', 'AbortError'))
    request.onload = () => {
      const body = request.response as Record<string, unknown> | null
      if (request.status >= 200 && request.status < 300) {
        try {
          resolve(understood(answer, body))
        } catch (error) {
          reject(error as ApiError)
        }
      } else reject(refusal(request.status, body ?? {}, 'The upload failed.'))
    }
    signal.addEventListener('abort', () => request.abort())
    request.send(form)
  })
}
