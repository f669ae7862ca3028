import { describe, expect, it, vi } from 'vitest'
import { askedFrom, sameWeights, shareText, toggled, weightsText } from '@/features/rank/asked'
import KeptRankings from '@/features/rank/KeptRankings.vue'
import PlaceStrip from '@/features/rank/PlaceStrip.vue'
import RankJudgement from '@/features/rank/RankJudgement.vue'
import RankTable from '@/features/rank/RankTable.vue'
import VerdictField from '@/features/rank/VerdictField.vue'
import WeightsPanel from '@/features/rank/WeightsPanel.vue'
import type { Schemas } from '@/api/client'
import { pick, refusal, serve, settle, show } from './mounting'

const figure = (value: number | null, more = {}) => ({
  value,
  u: value === null ? null : value / 50,
  n: 1,
  origin: 'measured',
  reason: value === null ? 'no sample was weighed' : '',
  assumed: false,
  ...more,
})
const row = (motor: number, place: number | null, more = {}): Schemas['RankedMotor'] => ({
  motor,
  full_name: `Motor ${motor}`,
  size_code: '2206',
  version: 3,
  verdict: '',
  place,
  total: place === null ? null : 104.25,
  total_u: place === null ? null : 1.5,
  why_unranked: place === null ? 'no run that counts under this load' : '',
  per_mass: 99,
  per_mass_u: 1.2,
  per_price: null,
  per_price_u: null,
  places: [0.7, 0.3],
  place_from: 1,
  place_to: 2,
  figures: [
    {
      name: 'max_thrust_gf',
      score_u: 1.3,
      score: 104,
      figure: figure(1180),
      samples: 2,
      runs: 5,
      filled: false,
    },
  ],
  missing: [],
  mass_g: figure(25),
  price: figure(null, { reason: 'no price on record' }),
  price_currency: '',
  price_words: '',
  warnings: ['one sample only'],
  ...more,
})
const measure = (name: string, weight: number, more = {}): Schemas['RankMeasure'] => ({
  name,
  label: name === 'max_thrust_gf' ? 'Largest thrust' : 'Mass',
  unit: name === 'max_thrust_gf' ? 'gf' : 'g',
  lower_is_better: name === 'mass_g',
  weight,
  load: '',
  level: null,
  at: '',
  by: 'curve',
  motors: 2,
  ...more,
})
const ranking = (more = {}): Schemas['Ranking'] => ({
  loads: [],
  load: '',
  currency: 'EUR',
  sizes: [],
  measures: [measure('max_thrust_gf', 1), measure('mass_g', 0)],
  rows: [row(1, 1), row(2, 2), row(3, null)],
  fallen_out: [],
  ties: ['Places 1 and 2 cannot be told apart.'],
  leader: { motor: 1, full_name: 'Motor 1', probability: 0.7 },
  swap: {
    name: 'max_thrust_gf',
    weight: 1,
    needed: 0.6,
    sentence: 'Motor 2 would lead if “Largest thrust” weighed 0.60 instead of 1.',
  },
  settle: {
    motor: 1,
    kind: 'curve',
    another_sample: false,
    sample: 11,
    propeller: 4,
    supply: 2,
    now: 0.7,
    after: 0.78,
    sentence: 'One more run of plateaus of Motor 1 would settle most.',
  },
  beaten: [{ better: 1, worse: 2, confidence: 0.9, sentence: 'Motor 1 before Motor 2.' }],
  families: [{ motors: [1, 2], sentence: 'Motor 1 and Motor 2 perform the same.' }],
  left_open: '',
  price_of_lead: 'Motor 1 costs 6.00 EUR more than Motor 2: 3.00 EUR per gram saved.',
  remarks: [],
  ...more,
})

describe('the question in the address', () => {
  it('carries words and numbers, and what is no number as it was typed', () => {
    expect(
      askedFrom({ use: 'racing', most_mass_g: '30,5', cells: 'four', fill: 'yes', other: 'x' }),
    ).toEqual({ use: 'racing', most_mass_g: 30.5, cells: 'four', fill: true })
    expect(askedFrom({})).toEqual({})
  })

  it('leaves out what weighs nothing, and knows equal weights by any order', () => {
    expect(weightsText({ a: 2, b: 0, c: 0.25 })).toBe('a:2,c:0.25')
    expect(sameWeights({ a: 1, b: 0 }, { a: 1 })).toBe(true)
    expect(sameWeights({ a: 1 }, { a: 1, b: 0.25 })).toBe(false)
  })

  it('takes a motor out and back in', () => {
    expect(toggled('', 7)).toBe('7')
    expect(toggled('7,8', 7)).toBe('8')
  })

  it.each([
    [0.461, '46 %'],
    [0.9999, '>99 %'],
    [1, '100 %'],
    [0.001, '<1 %'],
    [0, '0 %'],
  ])('says a share of %d as %s', (share, text) => expect(shareText(share)).toBe(text))
})

describe('a place', () => {
  it('is told in words to who does not see the strip', async () => {
    const { page } = await show(PlaceStrip, {
      props: { places: [0.7, 0.299, 0.001], from: 1, to: 2 },
    })
    expect(page.text()).toContain('place 1 to 2')
    expect(page.text()).toContain('place 1: 70 %, place 2: 30 %')
    expect(page.text()).not.toContain('place 3')
  })
})

describe('the cohort', () => {
  it('shows ranked motors with u, what stands beside, and dashes with reasons', async () => {
    serve({})
    const { page } = await show(RankTable, { props: { ranking: ranking(), mayWrite: true } })
    await settle()
    expect(page.text()).toContain('104.3± 1.5'.replace(' ', ''))
    expect(page.text()).toContain('one sample only')
    expect(page.text()).not.toContain('Motor 3')
    expect(page.html()).toContain('data-reason="no price on record"')
    await page.find('button[aria-label="Leave Motor 2 out"]').trigger('click')
    expect(page.emitted('leaveOut')).toEqual([[2]])
  })
})

describe('a row that is opened', () => {
  it('says of what is missing why it is, and fills nothing in', async () => {
    serve({})
    const why = 'it was run to 60 % of throttle, others further'
    const rows = [row(1, 1, { figures: [], missing: [{ name: 'max_thrust_gf', why }] })]
    const { page } = await show(RankTable, {
      props: { ranking: ranking({ rows }), mayWrite: false },
    })
    await settle()
    await page.get('.el-table__expand-icon').trigger('click')
    const line = page.get('.inner tbody tr')
    expect(line.text()).toContain('Largest thrust')
    expect(line.text()).toContain(`Missing, not filled in: ${why}.`)
    expect(line.find(`[data-reason="${why}"]`).exists()).toBe(true)
  })
})

describe('the judgement', () => {
  it('says every judgement of the core, and plans the run that settles most', async () => {
    const post = vi.fn(() => ({ id: 9 }))
    serve({ 'POST /api/v1/campaigns/': post })
    const { page, path } = await show(RankJudgement, {
      props: { ranking: ranking(), mayWrite: true },
    })
    for (const words of [
      '70 % sure',
      'cannot be told apart',
      'would lead if',
      'would settle most',
      'perform the same',
      'Motor 1 before Motor 2',
      'EUR per gram saved',
    ])
      expect(page.text()).toContain(words)
    await page.findAll('button')[0]?.trigger('click')
    await settle()
    expect(post).toHaveBeenCalled()
    expect(path()).toContain('/plan')
  })

  it('offers nothing to a reader, and nothing that cannot be mounted', async () => {
    serve({})
    const reader = await show(RankJudgement, { props: { ranking: ranking(), mayWrite: false } })
    expect(reader.page.findAll('button')).toHaveLength(0)
    const gone = { ...ranking().settle, sample: null }
    const { page } = await show(RankJudgement, {
      props: { ranking: ranking({ settle: gone }), mayWrite: true },
    })
    expect(page.text()).toContain('No such sample is at hand')
  })

  it('says why no run would settle it', async () => {
    serve({})
    const left_open = 'No one run more would settle whether Motor 1 or Motor 2 leads.'
    const { page } = await show(RankJudgement, {
      props: { ranking: ranking({ settle: null, left_open }), mayWrite: true },
    })
    expect(page.text()).toContain(left_open)
    expect(page.findAll('button')).toHaveLength(0)
  })

  it('says what is needed where nobody can be ranked', async () => {
    serve({})
    const { page } = await show(RankJudgement, {
      props: { ranking: ranking({ leader: null, settle: null }), mayWrite: true },
    })
    expect(page.text()).toContain('needs two motors')
  })
})

describe('weights', () => {
  const listed = {
    presets: [{ use: 'racing', weights: { max_thrust_gf: 2 } }],
    own: [],
  }
  it('say before anybody opens the list for which use they are', async () => {
    serve({
      'GET /api/v1/rank/weights/': () => ({
        presets: [{ use: 'equal', weights: { max_thrust_gf: 1, mass_g: 0 } }],
        own: [],
      }),
    })
    const { page } = await show(WeightsPanel, {
      props: { measures: ranking().measures, mayWrite: true },
    })
    expect(page.get('.el-select__placeholder').text()).toBe('four equal criteria')
  })

  it('are sent once a slider rests, and never all at 0', async () => {
    serve({ 'GET /api/v1/rank/weights/': () => listed })
    const { page } = await show(WeightsPanel, {
      props: { measures: ranking().measures, mayWrite: true },
    })
    const sliders = page.findAllComponents({ name: 'ElSlider' })
    sliders[1]?.vm.$emit('input', 0.5)
    sliders[1]?.vm.$emit('input', 0.75)
    await new Promise((done) => setTimeout(done, 320))
    expect(page.emitted('weigh')).toEqual([[{ max_thrust_gf: 1, mass_g: 0.75 }]])
    sliders[0]?.vm.$emit('input', 0)
    sliders[1]?.vm.$emit('input', 0)
    await new Promise((done) => setTimeout(done, 320))
    await settle()
    expect(page.emitted('weigh')).toHaveLength(1)
    expect(page.text()).toContain('Give at least one criterion a weight')
  })

  it('are kept under a name, and a name that is taken is said at its field', async () => {
    serve({
      'GET /api/v1/rank/weights/': () => listed,
      'POST /api/v1/rank/weights/': () =>
        refusal(400, 'taken', { fields: { name: ['There are weights named x already.'] } }),
    })
    const { page } = await show(WeightsPanel, {
      props: { measures: ranking().measures, mayWrite: true },
    })
    await settle()
    const keep = page.findAll('button').find((one) => one.text().includes('Keep these weights'))
    await keep?.trigger('click')
    await page.find('form input').setValue('x')
    await page.find('form').trigger('submit')
    await settle()
    expect(page.text()).toContain('There are weights named x already.')
  })
})

describe('a verdict', () => {
  const props = {
    motor: 1,
    name: 'Motor 1',
    version: 3,
    verdict: 'For light craft.',
    mayWrite: true,
  }
  it('is written from the version that was read; a refusal keeps what was typed', async () => {
    const sent: unknown[] = []
    serve({
      'PATCH /api/v1/motors/1/': (body: unknown) => {
        sent.push(body)
        return refusal(409, 'Somebody else changed it.')
      },
    })
    const { page } = await show(VerdictField, { props })
    await page.find('button').trigger('click')
    await settle()
    await page.find('input').setValue('For heavy craft.')
    await page.find('form').trigger('submit')
    await settle()
    expect(sent).toEqual([{ verdict: 'For heavy craft.', version: 3 }])
    expect(page.find('input').element.value).toBe('For heavy craft.')
    expect(page.text()).toContain('Somebody else changed it.')
  })

  it('is only read by a reader', async () => {
    serve({})
    const { page } = await show(VerdictField, { props: { ...props, mayWrite: false } })
    expect(page.text()).toContain('For light craft.')
    expect(page.findAll('button')).toHaveLength(0)
  })
})

describe('kept rankings', () => {
  it('tell who moved and why, and are written on', async () => {
    const asked = serve({
      'POST /api/v1/verdicts/': { id: 12 },
      'GET /api/v1/rank/kept/': () => [
        {
          id: 5,
          title: 'November',
          asked: {},
          kept_by_name: 'Ilse Varga',
          kept_at: '2026-11-02T10:00:00Z',
          motors: 3,
        },
      ],
      'GET /api/v1/rank/kept/5/moves/': () => ({
        title: 'November',
        kept_at: '2026-11-02T10:00:00Z',
        moved: [{ name: 'Motor 2', before: 1, after: 2, reasons: ['joined: Motor 9'] }],
        stayed: 1,
      }),
    })
    const { page, path } = await show(KeptRankings, { props: { asked: {}, mayWrite: true } })
    await settle()
    expect(page.text()).not.toContain('Write its verdict')
    await pick(page, '#kept-ranking', 'November, 2026-11-02')
    await settle()
    expect(page.text()).toContain('joined: Motor 9')
    await page
      .findAll('button')
      .find((one) => one.text() === 'Write its verdict')
      ?.trigger('click')
    await settle()
    expect(asked.find((one) => one.method === 'POST')?.body).toEqual({ ranking: 5 })
    expect(path()).toBe('/publish/verdict/12')
  })
})
