import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { defineComponent, type WritableComputedRef } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'
import { useRouteQuery } from './useRouteQuery'

async function opened(path: string, names: string[]) {
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [{ path: '/:rest(.*)', component: { template: '<div />' } }],
  })
  await router.push(path)
  const found: Record<string, WritableComputedRef<string>> = {}
  const page = defineComponent({
    setup() {
      for (const name of names) found[name] = useRouteQuery(name, '')
      return () => null
    },
  })
  mount(page, { global: { plugins: [router] } })
  const say = (name: string, value: string) => {
    const one = found[name]
    if (one) one.value = value
  }
  return { router, say, at: () => router.currentRoute.value.fullPath }
}
const later = () => new Promise((resolve) => setTimeout(resolve, 0))

describe('a choice in the address', () => {
  it('is kept beside others that are made in the same moment', async () => {
    const { say, at } = await opened('/plan?request=3&supply=9', ['request', 'campaign', 'supply'])
    say('request', '')
    say('campaign', '4')
    say('supply', '')
    await later()
    expect(at()).toBe('/plan?campaign=4')
    // What arrived is not said again over what is said later.
    say('supply', '7')
    await later()
    expect(at()).toBe('/plan?campaign=4&supply=7')
  })

  it('does not follow to another page', async () => {
    const { router, say, at } = await opened('/plan', ['campaign'])
    say('campaign', '4')
    await later()
    await router.push('/runs')
    await later()
    expect(at()).toBe('/runs')
  })
})
