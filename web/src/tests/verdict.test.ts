/** The verdict's page: prose with figures in it, what moved, what the data would say. */
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { figuresIn, plainOf, type VerdictFigure } from '@/features/verdict/prose'
import { WAIT_MS } from '@/features/verdict/useProse'
import VerdictPage from '@/features/verdict/VerdictPage.vue'
import { alerts, pick, refusal, serve, session, settle, show } from './mounting'

const paragraph = (...content: object[]) => ({
  type: 'paragraph',
  attrs: { rests_on: [] },
  content,
})
const text = (words: string) => ({ type: 'text', text: words })
const figureNode = (figure: number) => ({ type: 'figure', attrs: { figure } })
const doc = (...content: object[]) => ({ type: 'doc', content })

const aFigure = (id: number, changed: object = {}) => ({
  id,
  kind: 'read' as const,
  words: 'Thrust at full throttle, Wickett 5.1x4.2x3, 16 V bench supply',
  stated: '1,180 ± 4 gf',
  now: '1,180 ± 4 gf',
  why_absent: '',
  stale: false,
  moved: false,
  word: '',
  n: 3,
  n_now: 3,
  samples: 2,
  runs: [7, 9],
  outcome: '',
  assumed: true,
  seen_at: '2026-10-08T09:00:00Z',
  seen_by_name: 'Ilse',
  ...changed,
})
const STALE = { stale: true, moved: true, now: '1,240 ± 4 gf', n_now: 4 }

const aVerdict = (changed: object = {}) => ({
  id: 4,
  version: 6,
  subject: 'Ostrel Drift 2206 1900',
  motor: 3,
  comparison: null,
  ranking: null as number | null,
  kind: 'motor',
  asked: {} as Record<string, string>,
  runs: [],
  sentence: 'The plain answer.',
  sentence_version: 11,
  sections: [
    {
      key: 'for_whom',
      title: 'For whom',
      asks: 'Who should buy it?',
      prose: doc(paragraph(text('It pulls '), figureNode(1), text('.'))),
    },
    { key: 'open', title: 'What stays open', asks: 'What was not tested?', prose: doc() },
  ],
  figures: [aFigure(1)],
  links: 'unknown',
  links_text: '',
  gains: 'nobody',
  gains_text: '',
  parts: [] as object[],
  gear: [
    { what: 'motor', name: 'Ostrel Drift 2206 1900' },
    { what: 'propeller', name: 'Wickett 5.1x4.2x3' },
  ],
  disclosure: {
    lines: ['Drift, samples A, B: given free of charge.'],
    missing: ['whether any link on the page pays'],
    matters: true,
  },
  grade: { grade: 'thin', line: 'Thin evidence: 1 sample.', missing: ['2 more samples'] },
  obstacles: [
    {
      code: 'disclosure',
      message: 'Not disclosed: whether any link on the page pays.',
      section: 'disclosure',
      figure: null,
      blocks: true,
      word_lifts: false,
    },
  ],
  ...changed,
})

const aStatement = (key: string, changed: object = {}) => ({
  key,
  section: 'for_whom',
  side: 'for',
  text: `It needs less power (−6 ± 1 %): ${key}.`,
  strength: 1.2,
  caveat: 'one sample',
  taken: false,
  evidence: [{ words: 'Power at 600 gf', stated: '−6 ± 1 %', runs: [7] }],
  ...changed,
})
const PROPOSED = {
  against: 8,
  rivals: [
    { id: 8, full_name: 'Brackwater No. 4 2306 1800' },
    { id: 9, full_name: 'Quillmoor Sable 2105.5 1950' },
  ],
  sentences: ['At full throttle it out-pulls the No. 4.'],
  statements: [aStatement('hover'), aStatement('said', { taken: true })],
}
const QUOTABLE = [
  {
    quote: { kind: 'read', of: '3', name: 'power_w', propeller: 'W', supply: 's', voltage_v: 16,
      condition: 'full', level: 0, against: '', text: '' },
    words: 'Power at full throttle',
    stated: '420 ± 3 W',
    samples: 2,
    beyond: false,
  },
] // prettier-ignore

const UNPUBLISHED = {
  id: null,
  version: null,
  path: '',
  withdrawn_reason: '',
  withdrawn_at: null,
  editions: [],
  proposal: null,
  second_eyes: true,
}

const URL = '/api/v1/verdicts/4/'
let verdict = aVerdict()
const answers = (changed: object = {}) => ({
  'GET /api/v1/session/': session(),
  [`GET ${URL}`]: () => verdict,
  [`GET ${URL}publication/`]: UNPUBLISHED,
  [`GET ${URL}proposals/`]: PROPOSED,
  [`GET ${URL}figures/`]: QUOTABLE,
  [`PATCH ${URL}`]: (body: unknown) => {
    const sent = body as { version: number; sections?: Record<string, object> }
    verdict = {
      ...verdict,
      version: verdict.version + 1,
      sections: verdict.sections.map((one) => ({
        ...one,
        prose: (sent.sections?.[one.key] as typeof one.prose) ?? one.prose,
      })),
    }
    return verdict
  },
  ...changed,
})
const open = () => show(VerdictPage, { path: '/publish/verdict/4', at: '/publish/verdict/:id' })
/** Time passes when the test says so: a slow machine keeps nothing before its time. */
const pass = async (ms: number) => {
  await vi.advanceTimersByTimeAsync(ms)
  await settle()
}

beforeEach(() => {
  localStorage.clear()
  verdict = aVerdict()
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
})
afterEach(() => vi.useRealTimers())

describe('prose', () => {
  it('names every figure it uses, those its paragraphs rest on too', () => {
    const prose = doc(
      { ...paragraph(figureNode(4)), attrs: { rests_on: [4, 9] } },
      { type: 'bulletList', content: [{ type: 'listItem', content: [paragraph(figureNode(2))] }] },
    )
    expect(figuresIn(prose)).toEqual([4, 9, 2])
    expect(figuresIn(doc())).toEqual([])
  })

  it('is text with its figures as they are stated', () => {
    const figures = new Map([[1, aFigure(1) as VerdictFigure]])
    const prose = doc(paragraph(text('It pulls '), figureNode(1)), paragraph(figureNode(5)))
    expect(plainOf(prose, figures)).toBe('It pulls 1,180 ± 4 gf\n?')
  })
})

describe('a verdict', () => {
  it('shows its figures where they stand, and in the margin what they rest on', async () => {
    serve(answers())
    const { page } = await open()
    expect(page.find('.ProseMirror').text()).toContain('It pulls 1,180 ± 4 gf')
    expect(page.get('.quoted').attributes('title')).toContain('n = 3')
    const margin = page.get('[aria-label="Evidence of For whom"]').text()
    expect(margin).toContain('Thrust at full throttle')
    expect(margin).toContain('n = 3, 2 samples, u partly assumed')
    expect(margin).toContain('2 runs')
    expect(page.text()).toContain('Thin evidence: 1 sample.')
    expect(page.text()).toContain('It would rise with 2 more samples.')
    expect(page.text()).toContain('Not disclosed: whether any link')
    // What a section says already is not proposed again.
    expect(margin).toContain('hover')
    expect(margin).not.toContain('said.')
  })

  it('marks what moved and lets somebody stand by it, or say why the old one stands', async () => {
    verdict = aVerdict({ figures: [aFigure(1, STALE)] })
    const asked = serve(answers({ [`PATCH ${URL}figures/1/`]: aFigure(1) }))
    const { page } = await open()
    expect(page.get('.quoted').classes()).toContain('stale')
    expect(page.get('.quoted').attributes('title')).toContain('now 1,240 ± 4 gf')
    expect(page.text()).toContain('1 figure has moved since')
    const margin = page.get('[aria-label="Evidence of For whom"]')
    expect(margin.text()).toContain('1,240 ± 4 gf (n = 4), beyond its uncertainty')
    await margin
      .findAll('button')
      .find((one) => one.text().startsWith('Let it stand'))
      ?.trigger('click')
    const why = page.get('[aria-label^="Why 1,180"]')
    await why.setValue('only the last run was redone')
    await page.get('.word').trigger('submit')
    await settle()
    await margin
      .findAll('button')
      .find((one) => one.text().startsWith('Take 1,240'))
      ?.trigger('click')
    await settle()
    const sent = asked.filter((one) => one.path.endsWith('/figures/1/')).map((one) => one.body)
    expect(sent).toEqual([{ word: 'only the last run was redone' }, {}])
  })

  it('says a figure that is gone', async () => {
    const gone = { stale: true, moved: true, now: '', why_absent: 'it was not run under this load' }
    verdict = aVerdict({ figures: [aFigure(1, gone)] })
    serve(answers())
    const { page } = await open()
    expect(page.text()).toContain('gone: it was not run under this load')
    expect(page.text()).toContain('Take it as gone')
  })

  it('takes a statement as a paragraph and keeps it by itself', async () => {
    const asked = serve(
      answers({
        [`POST ${URL}adopt/`]: {
          paragraph: { ...paragraph(text('It needs '), figureNode(2)), attrs: { rests_on: [2] } },
          figures: [aFigure(2, { stated: '−6 ± 1 %' })],
        },
      }),
    )
    const { page } = await open()
    await page.get('[aria-label^="Take: It needs less power"]').trigger('click')
    await settle()
    expect(page.find('.ProseMirror').text()).toContain('It needs −6 ± 1 %')
    expect(page.text()).toContain('Not kept yet.')
    await pass(WAIT_MS)
    const kept = asked.find((one) => one.method === 'PATCH')?.body as {
      version: number
      sections: { for_whom: { content: { attrs: { rests_on: number[] } }[] } }
    }
    expect(kept.version).toBe(6)
    expect(kept.sections.for_whom.content).toHaveLength(2)
    expect(kept.sections.for_whom.content[1]?.attrs.rests_on).toEqual([2])
    expect(page.text()).toContain('Kept.')
    expect(asked.find((one) => one.path.endsWith('/adopt/'))?.body).toEqual({
      key: 'hover',
      against: 8,
    })
  })

  it('inserts a figure by what it is', async () => {
    const asked = serve(answers({ [`POST ${URL}figures/`]: aFigure(5, { stated: '420 ± 3 W' }) }))
    const { page } = await open()
    await pick(
      page,
      '[aria-label="insert a figure into What stays open"]',
      'Power at full throttle 420 ± 3 W',
    )
    await settle()
    const sent = asked.find((one) => one.method === 'POST')?.body as { name: string }
    expect(sent.name).toBe('power_w')
    expect(page.get('[aria-label="What stays open"] .ProseMirror').text()).toContain('420 ± 3 W')
  })

  it('shows two people at one section to each other', async () => {
    const theirs = { for_whom: doc(paragraph(text('Yours.'))), open: doc() }
    let refuse = true
    const asked = serve(
      answers({
        [`POST ${URL}adopt/`]: { paragraph: paragraph(text('Mine.')), figures: [] },
        [`PATCH ${URL}`]: (body: unknown) => {
          if (!refuse) return { ...verdict, version: 10, sent: body }
          return refusal(409, 'Tomas changed this.', {
            code: 'changed_meanwhile',
            current: { version: 9, who: 'Tomas', at: null, values: { sections: theirs } },
          })
        },
      }),
    )
    const { page } = await open()
    await page.get('[aria-label^="Take: It needs less power"]').trigger('click')
    await settle()
    await pass(WAIT_MS)
    expect(alerts(page).join()).toContain('Tomas changed this section while you were writing.')
    expect(page.get('.theirs').text()).toBe('Yours.')
    refuse = false
    await page
      .findAll('button')
      .find((one) => one.text() === 'Keep mine')
      ?.trigger('click')
    await settle()
    const last = asked.filter((one) => one.method === 'PATCH').at(-1)?.body as { version: number }
    expect(last.version).toBe(9)
    expect(alerts(page)).toEqual([])
  })

  it('loses nothing when the server is away, nor over a reload', async () => {
    const without = answers({
      [`POST ${URL}adopt/`]: { paragraph: paragraph(text('Mine.')), figures: [] },
    })
    Reflect.deleteProperty(without, `PATCH ${URL}`)
    serve(without)
    const { page } = await open()
    await page.get('[aria-label^="Take: It needs less power"]').trigger('click')
    await settle()
    await pass(WAIT_MS)
    expect(page.text()).toContain('Not kept: The server cannot be reached.')
    page.unmount()
    await settle()
    const asked = serve(answers())
    const again = (await open()).page
    expect(again.find('.ProseMirror').text()).toContain('Mine.')
    expect(again.text()).toContain('Not kept yet.')
    await pass(WAIT_MS)
    expect(asked.find((one) => one.method === 'PATCH')?.body).toMatchObject({ version: 6 })
    expect(again.text()).toContain('Kept.')
  })

  it('keeps the one sentence from the version of the motor it was read at', async () => {
    const asked = serve(answers())
    const { page } = await open()
    await page.get('[aria-label="Take: At full throttle it out-pulls the No. 4."]').trigger('click')
    await settle()
    expect(asked.find((one) => one.method === 'PATCH')?.body).toEqual({
      sentence: 'At full throttle it out-pulls the No. 4.',
      sentence_version: 11,
      version: 6,
    })
  })

  it('asks for the disclosure and says what matters', async () => {
    const asked = serve(answers())
    const { page } = await open()
    expect(page.text()).toContain('A reader wants to know this first')
    await pick(page, '[aria-labelledby=disclosure] input', 'some links pay')
    await page.get('[aria-labelledby=disclosure] form').trigger('submit')
    await settle()
    expect(asked.find((one) => one.method === 'PATCH')?.body).toMatchObject({ links: 'some' })
  })

  it('names what was used, with links that say whether they pay', async () => {
    const asked = serve(answers())
    const { page } = await open()
    const parts = page.get('[aria-labelledby=parts]')
    const button = (text: string) => parts.findAll('button').find((one) => one.text() === text)
    await button('+ Wickett 5.1x4.2x3')?.trigger('click')
    expect(button('+ Wickett 5.1x4.2x3')).toBeUndefined()
    // Without a link nobody is asked who is paid.
    expect(parts.find('[aria-label^="Whether the link"]').exists()).toBe(false)
    await parts.get('[aria-label="Link to Wickett 5.1x4.2x3"]').setValue('https://shop.example/w')
    await pick(page, '[aria-label="Whether the link to Wickett 5.1x4.2x3 pays"]', 'pays us')
    await button('Keep')?.trigger('click')
    await settle()
    const sent = asked.find((one) => one.method === 'PATCH')?.body as { parts: object[] }
    expect(sent.parts).toEqual([
      {
        what: 'propeller',
        name: 'Wickett 5.1x4.2x3',
        link: 'https://shop.example/w',
        noted_on: expect.stringMatching(/^\d{4}-\d\d-\d\d$/),
        pays: true,
      },
    ])
  })

  it('is held against whom one chooses', async () => {
    const asked = serve(answers())
    const { page } = await open()
    await pick(page, '#rival', 'Quillmoor Sable 2105.5 1950')
    await settle()
    const last = asked.filter((one) => one.path.endsWith('/proposals/')).at(-1)
    expect(last?.query).toEqual({ against: '9' })
  })

  it('of a cohort is stood by when its order has changed', async () => {
    const moved = {
      code: 'order_moved',
      message: 'Who stands where has changed: Drift from 2 to 1.',
      section: 'differs',
      figure: null,
      blocks: true,
      word_lifts: false,
    }
    verdict = aVerdict({
      motor: null,
      ranking: 5,
      kind: 'cohort',
      asked: { use: 'race' },
      obstacles: [moved],
    })
    const asked = serve(answers())
    const { page } = await open()
    expect(page.findAll('.kicker a').map((one) => one.attributes('href'))).toEqual([
      '/publish',
      '/rank?use=race',
      '/publish/verdict/4/notes',
      '/api/v1/verdicts/4/draft/',
    ])
    await page
      .findAll('button')
      .find((one) => one.text() === 'Stand by it as it is now')
      ?.trigger('click')
    await settle()
    expect(asked.find((one) => one.method === 'PATCH')?.body).toEqual({
      version: 6,
      order_seen: true,
    })
  })

  it('is only read by readers', async () => {
    const asked = serve(answers({ 'GET /api/v1/session/': session('reader') }))
    const { page } = await open()
    expect(page.get('.ProseMirror').attributes('contenteditable')).toBe('false')
    expect(page.text()).not.toContain('The data would say')
    expect(page.find('[aria-label^="insert a figure"]').exists()).toBe(false)
    expect(asked.some((one) => one.path.endsWith('/proposals/'))).toBe(false)
  })
})
