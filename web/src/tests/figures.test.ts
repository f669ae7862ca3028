import { describe, expect, it } from 'vitest'
import Figure from '@/figures/Figure.vue'
import MotorMark from '@/figures/MotorMark.vue'
import PageState from '@/app/PageState.vue'
import PointTable from '@/features/runs/PointTable.vue'
import { refusal, show } from './mounting'

const text = (page: { text(): string }) => page.text().replaceAll(/\s+/g, ' ')

describe('a figure', () => {
  it('carries its uncertainty and unit', async () => {
    const { page } = await show(Figure, { props: { value: 1175.3, u: 8.2, unit: 'gf' } })
    expect(text(page)).toBe('1,175±8gf')
  })

  it('is a dash with its reason when it is absent, never 0', async () => {
    const { page } = await show(Figure, {
      props: { value: null, unit: 'gf', reason: 'torque was not logged' },
    })
    expect(page.attributes('title')).toBe('torque was not logged')
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
