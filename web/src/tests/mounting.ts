/** Mounting components in tests: queries, store and router are real, the server is a table. */
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount, type VueWrapper } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { vi } from 'vitest'
import type { Component } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'

export interface Asked {
  method: string
  path: string
  body: unknown
  query: Record<string, string>
}

type Answer = unknown | ((body: unknown, query: Record<string, string>) => unknown)

/** Uploads go another way than fetch; here both come from the same table. */
export class Uploading {
  status = 0
  responseText = ''
  timeout = 0
  upload: { onprogress?: (event: { loaded: number; total: number }) => void } = {}
  onload?: () => void
  onerror?: () => void
  private path = ''
  open(_: string, path: string) {
    this.path = path
  }
  setRequestHeader() {}
  async send(form: FormData) {
    try {
      const response = await fetch(this.path, { method: 'POST', body: form })
      this.upload.onprogress?.({ loaded: 1, total: 1 })
      this.status = response.status
      this.responseText = await response.text()
      this.onload?.()
    } catch {
      this.onerror?.()
    }
  }
}

/** An answer that is an error of the API. */
export class Refusal {
  constructor(
    readonly status: number,
    readonly body: object,
  ) {}
}

export function refusal(status: number, message: string, rest: object = {}): Refusal {
  return new Refusal(status, { code: 'refused', message, fields: {}, where: null, ...rest })
}

/** Answer requests from a table of "METHOD /path"; what is not there is a network failure. */
export function serve(answers: Record<string, Answer>): Asked[] {
  const asked: Asked[] = []
  vi.stubGlobal('XMLHttpRequest', Uploading)
  vi.stubGlobal('fetch', async (input: Request | string, init?: RequestInit) => {
    const request = input instanceof Request ? input : null
    const method = request?.method ?? init?.method ?? 'GET'
    const address = new URL(request?.url ?? String(input), 'http://bench')
    const path = address.pathname
    const sent = request ? await request.clone().text() : init?.body
    const body = typeof sent === 'string' && sent ? (JSON.parse(sent) as unknown) : sent
    asked.push({ method, path, body, query: Object.fromEntries(address.searchParams) })
    const key = `${method} ${path}`
    if (!(key in answers)) throw new TypeError('network')
    const found = answers[key]
    const answer = await (typeof found === 'function'
      ? (found as (b: unknown, q: object) => unknown)(
          body,
          Object.fromEntries(address.searchParams),
        )
      : found)
    if (answer instanceof Refusal)
      return new Response(JSON.stringify(answer.body), { status: answer.status })
    return new Response(JSON.stringify(answer), { status: 200 })
  })
  return asked
}

export const ILSE = {
  id: 1,
  username: 'ilse',
  full_name: 'Ilse',
  shown_name: 'Ilse',
  role: 'reviewer',
}

export const session = (role = 'reviewer') => ({ user: { ...ILSE, role }, demo: true })

/** Mount a component at an address and wait until its first queries are through. */
export async function show(
  component: Component,
  options: { props?: object; path?: string; slots?: Record<string, string>; at?: string } = {},
  wait: () => Promise<unknown> = settle,
): Promise<{ page: VueWrapper; path: () => string }> {
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [
      { path: options.at ?? '/:rest(.*)', component: { template: '<div />' } },
      { path: '/:rest(.*)', component: { template: '<div />' } },
    ],
  })
  await router.push(options.path ?? '/')
  const pinia = createPinia()
  setActivePinia(pinia)
  const queryClient = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  const page = mount(component, {
    attachTo: document.body,
    props: options.props,
    slots: options.slots,
    global: { plugins: [router, pinia, [VueQueryPlugin, { queryClient }]] },
  })
  await wait()
  return { page, path: () => router.currentRoute.value.fullPath }
}

/** Take a word of a select, as a hand does: open it and click the word. */
export async function pick(page: VueWrapper, selector: string, label: string): Promise<void> {
  const field = page.get(selector)
  await field.trigger('click')
  await settle()
  const list = document.getElementById(field.attributes('aria-controls') ?? '')
  const words = [...(list?.querySelectorAll<HTMLElement>('.el-select-dropdown__item') ?? [])]
  const found = words.find((one) => one.textContent?.trim() === label)
  if (!found) throw new Error(`${label} is not among ${words.map((one) => one.textContent)}`)
  found.click()
  await settle()
}

/** Press the button that says this. */
export async function press(page: VueWrapper, words: string): Promise<void> {
  const found = page.findAll('button').find((one) => one.text().startsWith(words))
  if (!found) throw new Error(`no button says ${words}`)
  await found.trigger('click')
  await settle()
}

/** What is said to be wrong, beside fields and below forms. */
export const alerts = (page: VueWrapper): string[] =>
  page.findAll('[role=alert]').map((one) => one.text())

/** Let queries, watchers and renders that are due come through; a faked clock goes on by 4 ms. */
export async function settle(): Promise<void> {
  for (let i = 0; i < 4; i++) {
    await flushPromises()
    if (vi.isFakeTimers()) await vi.advanceTimersByTimeAsync(1)
    else await new Promise((resolve) => setTimeout(resolve, 0))
  }
}

/** A run as the API lists it. */
/** A headline figure of a run; null: absent with its reason. */
export const headline = (name: string, value: number | null, u = 0.1) => ({
  name,
  value,
  u: value === null ? null : u,
  n: value === null ? null : 1,
  assumed: false,
  reason: value === null ? 'thrust was not logged' : '',
})

export function aRun(id: number, changed: object = {}) {
  return {
    id,
    uid: `uid-${id}`,
    kind: 'steps',
    origin: 'bench',
    motor: 3,
    motor_name: 'Ostrel Drift 2206 1900',
    sample: 7,
    sample_mark: 'A',
    propeller: 1,
    propeller_name: 'Wickett 5.1x4.2x3',
    supply_name: 'Supply 16 V',
    supply_kind: 'psu',
    stand_name: 'Yard stand',
    operator_name: 'Ilse',
    nominal_voltage_v: 16,
    started_at: '2026-10-08T09:00:00Z',
    review: '',
    version: 1,
    review_reason: '',
    outcome: 'completed',
    end_reason: 'The profile ran to its end.',
    end_code: 'completed',
    headline: [
      headline('max_thrust_gf', 1123.5, 0.8),
      headline('max_current_a', 28.64, 0.03),
      headline('best_efficiency_g_per_w', 9.55, 0.02),
    ],
    comparable: true,
    warning_count: 0,
    ...changed,
  }
}

const absent = (reason: string) => ({ value: null, u: null, n: null, origin: '', reason })

/** A motor's file as the API gives it, with two samples and an empty parcel. */
export function aMotorFile(changed: object = {}) {
  const samples = ['A', 'B'].map((mark, at) => ({
    id: 7 + at,
    motor: 3,
    parcel: 21,
    mark,
    turning: 'cw',
    note: '',
    version: 1,
  }))
  return {
    motor: {
      id: 3,
      maker: 'Ostrel',
      name: 'Drift',
      kind: 'outrunner',
      size_code: '2206',
      size_basis: 'stator',
      kv_label_rpm_per_v: 1900,
      note: '',
      version: 2,
      full_name: 'Ostrel Drift 2206 1900',
      samples,
      run_count: 0,
      observation_count: 0,
      claim_count: 0,
    },
    size: {
      text: '2206',
      basis: 'stator',
      diameter_mm: 22,
      height_mm: 6,
      aspect: 0.27,
      stator_volume_mm3: 2281,
      absent_reason: '',
      doubt: '',
    },
    claims: [],
    remarks: [],
    open_points: ['No sample was weighed.'],
    parcels: [
      {
        parcel: {
          id: 21,
          obtained: 'loaned',
          obtained_from: '',
          arrived_on: null,
          price_amount: null,
          price_currency: '',
          price_per: 'each',
          set_size: null,
          shipping: 'unknown',
          shipping_amount: null,
          price_status: 'known',
          priced_on: null,
          availability: 'unknown',
          note: '',
          version: 4,
          parts: [],
        },
        samples: ['A', 'B'],
        price: { amount: null, currency: '', basis: 'no price on record', guessed: false },
        findings: [
          { code: 'mounting_screws', state: 'missing', message: '8 needed, 0 in the box.' },
        ],
      },
    ],
    masses: {
      lead_length_mm: 60,
      samples: samples.map((sample) => ({
        sample: sample.id,
        mark: sample.mark,
        weighings: [],
        preparations: [],
        mass_g: absent('not weighed'),
        lead_g_per_m: absent('no gauge'),
        lead_from: '',
        used: null,
        remarks: [],
      })),
      spread: null,
    },
    incidents: [],
    against_claims: [],
    claimed_loads: [],
    key_figures: [],
    expectations: [],
    peers: [],
    family: [],
    changes: [],
    ...changed,
  }
}

/** An attribute of the vocabulary as the API gives it. */
export function anAttribute(key: string, rest: object = {}) {
  return {
    key,
    step: 'Magnets',
    label: key,
    choices: [],
    unit: null,
    integer: false,
    counterpoint: '',
    ordinal_words: [],
    low: 0,
    high: null,
    ...rest,
  }
}
