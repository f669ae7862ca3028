import { mount } from '@vue/test-utils'
import { afterEach, describe, expect, it } from 'vitest'
import { nextTick } from 'vue'
import ChoiceField from './ChoiceField.vue'

const CHOICES = [
  { key: 'steps', label: 'Steps' },
  { key: 'soak', label: 'Soak' },
]
const listed = () =>
  [...document.querySelectorAll('.el-select-dropdown__item')].map((one) => one.textContent)

describe('a select', () => {
  afterEach(() => (document.body.innerHTML = ''))

  it('says what is chosen before anybody opened it, and makes its list when it is opened', async () => {
    const field = mount(ChoiceField, {
      props: { label: 'Kind of run', choices: CHOICES, modelValue: 'soak' },
      attachTo: document.body,
    })
    await nextTick()
    expect(field.get('.el-select__placeholder').text()).toBe('Soak')
    expect(listed()).toEqual([])
    await field.get('.el-select__wrapper').trigger('click')
    await expect.poll(listed).toEqual(['Steps', 'Soak'])
    await field.setProps({ modelValue: 'steps' })
    expect(field.get('.el-select__placeholder').text()).toBe('Steps')
    field.unmount()
  })

  it('follows words that come later, as those of the vocabulary do', async () => {
    const field = mount(ChoiceField, {
      props: { label: 'Kind of run', choices: [] as typeof CHOICES, modelValue: 'soak' },
    })
    await field.setProps({ choices: CHOICES })
    expect(field.get('.el-select__placeholder').text()).toBe('Soak')
    field.unmount()
  })

  it('has its list from the beginning where options stand in groups', () => {
    const sources = import.meta.glob<string>('../**/*.vue', {
      query: '?raw',
      import: 'default',
      eager: true,
    })
    const selects = Object.entries(sources).flatMap(([path, text]) =>
      [...text.matchAll(/<el-select\b[^-][\s\S]*?<\/el-select>/g)].map(([found]) => ({
        path,
        found,
      })),
    )
    expect(selects.length).toBeGreaterThan(40)
    const grouped = selects.filter((one) => one.found.includes('<el-option-group'))
    expect(grouped.length).toBeGreaterThan(1)
    const late = grouped.filter(
      (one) => !/\bpersistent\b/.test(one.found.split('<el-option')[0] ?? ''),
    )
    expect(late.map((one) => one.path)).toEqual([])
  })
})
