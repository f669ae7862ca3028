import { describe, expect, it, vi } from 'vitest'
import ReasonPopover from '@/app/ReasonPopover.vue'
import NumberField from '@/forms/NumberField.vue'
import Figure from '@/figures/Figure.vue'
import MotorMark from '@/figures/MotorMark.vue'
import PageState from '@/app/PageState.vue'
import PointTable from '@/features/runs/PointTable.vue'
import { refusal, settle, show } from './mounting'

const text = (page: { text(): string }) => page.text().replaceAll(/\s+/g, ' ')

describe('a figure', () => {
  it('carries its uncertainty and unit', async () => {
    const { page } = await show(Figure, { props: { value: 1175.3, u: 8.2, unit: 'gf' } })
    expect(text(page)).toBe('1,175±8gf')
  })

  it('has a sign where it is a difference', async () => {
    const props = { value: 2.14, u: 0.4, unit: '%', signed: true }
    expect(text((await show(Figure, { props })).page)).toBe('+2.1±0.4%')
    expect(text((await show(Figure, { props: { ...props, value: -2.14 } })).page)).toBe('−2.1±0.4%')
  })

  it('is a dash with its reason when it is absent, never 0', async () => {
    const { page } = await show(Figure, {
      props: { value: null, unit: 'gf', reason: 'torque was not logged' },
    })
    expect(page.attributes('data-reason')).toBe('torque was not logged')
    expect(text(page)).toBe('—torque was not logged')
    expect(page.text()).not.toContain('0')
  })

  it('shows 0 when 0 was measured', async () => {
    const { page } = await show(Figure, { props: { value: 0, unit: 'g' } })
    expect(text(page)).toBe('0g')
  })

  it('marks an estimate with a tilde', async () => {
    const { page } = await show(Figure, { props: { value: 240, unit: 's', estimated: true } })
    expect(page.text().startsWith('~')).toBe(true)
    expect(page.classes()).toContain('estimated')
  })
})

describe('a field', () => {
  it('takes ounces where it is kept in grams, and says what was typed', async () => {
    const { page } = await show(NumberField, {
      props: { label: 'Mass', unit: 'g', modelValue: '' },
    })
    const field = page.get('input')
    const given = () => page.emitted('update:modelValue')?.at(-1)
    field.element.value = '1.02 oz'
    await field.trigger('input')
    expect(given()).toEqual(['1.02 oz'])
    await field.trigger('change')
    expect(given()).toEqual(['28.917'])
    expect(page.emitted('update:typed')?.at(-1)).toEqual(['1.02 oz'])
    await page.setProps({ modelValue: '28.917' })
    expect(text(page)).toContain('typed 1.02 oz')
    field.element.value = '29'
    await field.trigger('input')
    await page.setProps({ modelValue: '29' })
    expect(text(page)).not.toContain('typed')
  })

  it('says that what it cannot read is no number, and keeps it', async () => {
    const { page } = await show(NumberField, {
      props: { label: 'Mass', unit: 'g', modelValue: '3 stone' },
    })
    expect(page.get('[role=alert]').text()).toContain('3 stone')
    await page.get('input').trigger('change')
    expect(page.emitted('update:modelValue')).toBeUndefined()
  })
})

describe('why a figure is a dash', () => {
  it('is shown under the pointer and in focus, and goes with Escape', async () => {
    await show(ReasonPopover)
    const dash = document.createElement('span')
    dash.dataset.reason = 'torque was not logged'
    dash.tabIndex = 0
    document.body.append(dash)
    const shown = () =>
      [...document.querySelectorAll<HTMLElement>('.reason-popover')].some(
        (one) => one.style.display !== 'none' && one.textContent?.includes('torque was not logged'),
      )
    expect(shown()).toBe(false)
    dash.dispatchEvent(new Event('focusin', { bubbles: true }))
    await settle()
    expect(shown()).toBe(true)
    document.dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape' }))
    await vi.waitFor(() => expect(shown()).toBe(false))
    dash.dispatchEvent(new Event('mouseover', { bubbles: true }))
    await vi.waitFor(() => expect(shown()).toBe(true))
  })
})

describe('the mark of a motor', () => {
  it('is a shape as well as a colour', async () => {
    const { page: first } = await show(MotorMark, { props: { motor: 1 } })
    const { page: second } = await show(MotorMark, { props: { motor: 2 } })
    expect(first.find('circle').exists()).toBe(true)
    expect(second.find('rect').exists()).toBe(true)
  })
})

describe('the state of a page', () => {
  it('says what went wrong and offers to try again', async () => {
    let tries = 0
    const { page } = await show(PageState, {
      props: { loading: false, error: new Error('The server is away.'), retry: () => tries++ },
    })
    expect(page.get('[role=alert]').text()).toContain('The server is away.')
    await page.get('button').trigger('click')
    expect(tries).toBe(1)
  })

  it('shows that it is loading, and nothing when it is done', async () => {
    const { page } = await show(PageState, { props: { loading: true, error: null } })
    expect(page.get('[role=status]').attributes('aria-label')).toBe('Loading')
    await page.setProps({ loading: false, error: null })
    expect(page.text()).toBe('')
  })
})

describe('the points of a run', () => {
  const figure = (value: number, u: number) => ({ value, u, n: 1 })
  const point = (throttle: number, settled: boolean) => ({
    figures: {
      throttle_pct: figure(throttle, 0),
      thrust_gf: figure(12 * throttle, 0.2),
      torque_nm: null,
    },
    marks: {} as Record<string, boolean>,
    absent: { torque_nm: { reason: 'not_logged', note: 'the channel was not logged' } },
    start_s: throttle,
    used_from_s: throttle + 0.5,
    end_s: throttle + 2,
    settled,
  })

  it('have a column per figure that was measured, with its unit', async () => {
    const { page } = await show(PointTable, {
      props: { points: [point(30, true), point(60, false)] },
    })
    expect(page.findAll('thead th').map(text)).toEqual(['Throttle%', 'Thrustgf', 'State'])
    expect(text(page.findAll('tbody tr')[1] as never)).toContain('720.00±0.20')
  })

  it('show what only one kind of run has, with its marks in words', async () => {
    const own = { target_thrust_gf: figure(300, 0), sustained_power_w: null }
    const hold = { ...point(40, true), marks: { reached: false } }
    const { page } = await show(PointTable, {
      props: { points: [{ ...hold, figures: { ...hold.figures, ...own } }] },
    })
    expect(page.findAll('thead th').map(text)).toContain('Wanted thrustgf')
    expect(page.findAll('thead th').map(text)).not.toContain('Power, sustainedW')
    expect(page.find('tbody tr').text()).toContain('not reached')
  })

  it('say which plateau had not settled', async () => {
    const { page } = await show(PointTable, {
      props: { points: [point(30, true), point(60, false)] },
    })
    const rows = page.findAll('tbody tr')
    expect(rows[0]?.text()).not.toContain('not settled')
    expect(rows[1]?.text()).toContain('not settled')
  })
})

it('a refusal in these tests looks like the API', () => {
  expect(refusal(409, 'No.').body).toMatchObject({ code: 'refused', message: 'No.' })
})
