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
})
