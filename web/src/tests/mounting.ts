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
}

type Answer = unknown | ((body: unknown) => unknown)

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
  vi.stubGlobal('fetch', async (input: Request | string, init?: RequestInit) => {
    const request = input instanceof Request ? input : null
    const method = request?.method ?? init?.method ?? 'GET'
    const path = new URL(request?.url ?? String(input), 'http://bench').pathname
    const sent = request ? await request.clone().text() : init?.body
    const body = typeof sent === 'string' && sent ? (JSON.parse(sent) as unknown) : sent
    asked.push({ method, path, body })
    const key = `${method} ${path}`
    if (!(key in answers)) throw new TypeError('network')
    const found = answers[key]
    const answer = typeof found === 'function' ? (found as (b: unknown) => unknown)(body) : found
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
  await settle()
  return { page, path: () => router.currentRoute.value.fullPath }
}

/** Let queries, watchers and renders that are due come through. */
export async function settle(): Promise<void> {
  for (let i = 0; i < 4; i++) {
    await flushPromises()
    await new Promise((resolve) => setTimeout(resolve, 0))
  }
}

/** A run as the API lists it. */
export function aRun(id: number, changed: object = {}) {
  const figure = (value: number, u: number) => ({ value, u, n: 1 })
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
    review_reason: '',
    outcome: 'completed',
    end_reason: 'The profile ran to its end.',
    end_code: 'completed',
    max_thrust_gf: figure(1123.5, 0.8),
    max_current_a: figure(28.64, 0.03),
    best_efficiency_g_per_w: figure(9.55, 0.02),
    warning_count: 0,
    ...changed,
  }
}
