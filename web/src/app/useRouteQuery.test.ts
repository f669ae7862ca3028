import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import type { WritableComputedRef } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'
import { fileWords, useAddress } from './useAddress'
import { useRouteQuery } from './useRouteQuery'

async function opened(path: string, names: string[]) {
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [{ path: '/:rest(.*)', component: { template: '<div />' } }],
  })
  await router.push(path)
  const found: Record<string, WritableComputedRef<string>> = {}
  const page = {
    setup() {
      for (const name of names) found[name] = useRouteQuery(name, '')
      return () => null
    },
  }
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

  it('is asked no longer where it is empty, and stands beside what is asked at once', async () => {
    let address: ReturnType<typeof useAddress> | undefined
    const router = createRouter({
      history: createMemoryHistory(),
      routes: [{ path: '/:rest(.*)', component: { template: '<div />' } }],
    })
    await router.push('/compare/bench?level=500&order=motor&motors=1&motors=2')
    const page = {
      setup() {
        address = useAddress()
        return () => null
      },
    }
    mount(page, { global: { plugins: [router] } })
    expect(address?.word('order')).toBe('motor')
    // Said twice is no word, as nobody knows which is meant.
    expect(address?.word('motors')).toBe('')
    address?.ask({ level: '', order: undefined })
    address?.ask({ condition: 'hover' })
    await later()
    expect(router.currentRoute.value.query).toEqual({ condition: 'hover', motors: ['1', '2'] })
  })

  it('goes into a file as it is asked, a level of 0 too', () => {
    expect(fileWords({ condition: 'thrust_gf', level: 0, craft: undefined, also: '' })).toBe(
      'condition=thrust_gf&level=0',
    )
    expect(fileWords({ supply: 'bench & pack' })).toBe('supply=bench+%26+pack')
  })
})
