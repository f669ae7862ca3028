/** A verdict on its way to readers, and the pages that they get. */
import { beforeEach, describe, expect, it } from 'vitest'
import PublicationSheet from '@/features/publish/PublicationSheet.vue'
import WholeBench from '@/features/publish/WholeBench.vue'
import PublishedPages from '@/features/publish/PublishedPages.vue'
import { alerts, refusal, serve, session, settle, show } from './mounting'

beforeEach(() => localStorage.clear())

const NOT_YET = {
  id: null,
  version: null,
  path: '',
  withdrawn_reason: '',
  withdrawn_at: null,
  editions: [],
  proposal: null,
  second_eyes: true,
}
const edition = (number: number, changed: object = {}) => ({
  number,
  published_at: '2026-10-08T09:00:00Z',
  published_by_name: 'Tomas',
  changed: '',
  why: '',
  correction: false,
  path: number === 2 ? '/read/motors/drift/' : '/read/motors/drift/edition-1.html',
  licence: 'CC BY 4.0',
  data_path: `/read/motors/drift/edition-${number}-data.zip`,
  data_bytes: 1_400_000,
  data_problem: '',
  ...changed,
})
const PUBLISHED = {
  ...NOT_YET,
  id: 3,
  version: 5,
  path: '/read/motors/drift/',
  editions: [edition(2, { changed: 'Limits.', why: 'Left out.', correction: true }), edition(1)],
}
const AT = '/api/v1/verdicts/4/'
const sheet = (props: object = {}) =>
  show(PublicationSheet, { props: { verdict: 4, version: 6, blocked: 0, unkept: false, ...props } })
const press = async (page: Awaited<ReturnType<typeof sheet>>['page'], text: string) => {
  const found = page.findAll('button').find((one) => one.text() === text)
  if (!found) throw new Error(`no button ${text}`)
  if (found.attributes('type') === 'submit') await found.trigger('submit')
  else await found.trigger('click')
  await settle()
}

describe('the whole bench', () => {
  it('is written as long work, and taken when it is there', async () => {
    const asked = serve({ 'GET /api/v1/session/': session(), 'POST /api/v1/whole-bench/': {} })
    const { page } = await show(WholeBench)
    await press(page, 'Write it')
    expect(asked.some((one) => one.method === 'POST')).toBe(true)
    expect(page.text()).toContain('It is being written')
    expect(page.get('a[download]').attributes('href')).toBe('/api/v1/whole-bench/')
  })
  it('says when it is being written already', async () => {
    serve({ 'POST /api/v1/whole-bench/': refusal(409, 'It is being done already.') })
    const { page } = await show(WholeBench)
    await press(page, 'Write it')
    expect(alerts(page)).toContain('It is being done already.')
  })
})

describe('a verdict on its way to readers', () => {
  it('is proposed by a reviewer with a word', async () => {
    const asked = serve({
      'GET /api/v1/session/': session(),
      [`GET ${AT}publication/`]: NOT_YET,
      [`POST ${AT}proposal/`]: NOT_YET,
    })
    const { page } = await sheet()
    expect(page.text()).toContain('Not published yet')
    expect(page.text()).not.toContain('Publish it')
    await page.get('input').setValue('have a look')
    await press(page, 'Propose it')
    expect(asked.find((one) => one.method === 'POST')?.body).toEqual({ note: 'have a look' })
    expect(page.text()).toContain('an editor can publish it')
  })

  it.each([
    [{ blocked: 2 }, '2 to do first'],
    [{ unkept: true }, 'not kept yet'],
  ])('waits while something is in the way: %j', async (props, words) => {
    serve({ 'GET /api/v1/session/': session('editor'), [`GET ${AT}publication/`]: NOT_YET })
    const { page } = await sheet(props)
    expect(page.text()).toContain(words)
    const publish = page.findAll('button').find((one) => one.text() === 'Publish it')
    expect(publish?.attributes('disabled')).toBeDefined()
  })

  it('offers the data of each edition, or says why there are none', async () => {
    const editions = [
      edition(2, { data_path: '', data_bytes: null, licence: '' }),
      edition(1, { data_path: '', data_problem: 'The samples of run 4 are gone.' }),
      edition(1),
    ]
    serve({
      'GET /api/v1/session/': session(),
      [`GET ${AT}publication/`]: { ...PUBLISHED, editions },
    })
    const { page } = await sheet()
    expect(page.text()).toContain('its data are not packed yet')
    expect(page.text()).toContain('licence not said')
    expect(alerts(page).join()).toContain('The samples of run 4 are gone.')
    expect(page.get('a[download]').text()).toBe('its data, 1.4 MB')
  })

  it('is published under a licence that the editor chose', async () => {
    const asked = serve({
      'GET /api/v1/session/': session('editor'),
      'GET /api/v1/publishing-rules/': { bench_name: 'x', licence: 'CC BY 4.0', version: 1 },
      [`GET ${AT}publication/`]: { ...NOT_YET, second_eyes: false },
      [`POST ${AT}publication/`]: PUBLISHED,
    })
    const { page } = await sheet()
    expect(page.text()).toContain('CC BY 4.0')
    page.getComponent({ name: 'ElSelect' }).vm.$emit('update:modelValue', 'CC0 1.0')
    await press(page, 'Publish it')
    const sent = asked.find((one) => one.method === 'POST')?.body as { licence: string }
    expect(sent.licence).toBe('CC0 1.0')
  })

  it('says what an editor is told, and keeps what was typed', async () => {
    const asked = serve({
      'GET /api/v1/session/': session('editor'),
      [`GET ${AT}publication/`]: PUBLISHED,
      [`POST ${AT}publication/`]: refusal(400, 'Say why it changed.', {
        fields: { why: ['Say why it changed.'] },
      }),
    })
    const { page } = await sheet()
    expect(page.text()).toContain('correction: Limits. Left out.')
    await page.findAll('input')[0]?.setValue('Limits: heat.')
    await press(page, 'Publish a new edition')
    expect(asked.find((one) => one.method === 'POST')?.body).toEqual({
      version: 6,
      changed: 'Limits: heat.',
      licence: null,
      why: '',
      correction: false,
    })
    expect(alerts(page)).toContain('Say why it changed.')
    expect(page.findAll('input')[0]?.element.value).toBe('Limits: heat.')
  })

  it('shows who proposed it and that it was changed since', async () => {
    const proposal = {
      note: 'have a look',
      proposed_by_name: 'Ilse',
      proposed_at: '2026-10-08T09:00:00Z',
      since_changed: true,
    }
    serve({
      'GET /api/v1/session/': session('editor'),
      [`GET ${AT}publication/`]: { ...NOT_YET, proposal },
    })
    const { page } = await sheet()
    expect(page.text()).toContain('Ilse proposed it')
    expect(page.text()).toContain('It was changed since.')
  })

  it('is withdrawn with a reason, from the version that was read', async () => {
    const asked = serve({
      'GET /api/v1/session/': session('editor'),
      [`GET ${AT}publication/`]: PUBLISHED,
      'POST /api/v1/publications/3/withdrawal/': PUBLISHED,
    })
    const { page } = await sheet()
    await press(page, 'Withdraw …')
    await page.findAll('input').at(-1)?.setValue('the samples were mixed up')
    await press(page, 'Withdraw it')
    expect(asked.find((one) => one.method === 'POST')?.body).toEqual({
      reason: 'the samples were mixed up',
      version: 5,
    })
    expect(page.text()).toContain('its address says so')
  })

  it('says that it cannot be read, with a way on', async () => {
    serve({
      'GET /api/v1/session/': session('editor'),
      [`GET ${AT}publication/`]: refusal(500, 'The server failed.'),
    })
    const { page } = await sheet()
    expect(alerts(page).join()).toContain('The server failed.')
    expect(page.text()).toContain('Try again')
  })
})

describe('the pages for readers', () => {
  const row = (changed: object) => ({
    verdict: 4,
    subject: 'Ostrel Drift 2206 1900',
    path: '/read/motors/drift/',
    number: 2,
    published_at: '2026-10-08T09:00:00Z',
    corrections: 0,
    withdrawn_reason: '',
    ...changed,
  })
  const RULES = {
    bench_name: 'A motor bench',
    address: '',
    licence: '',
    second_eyes: false,
    version: 1,
  }
  const answers = (role: string, rows: object[]) => ({
    'GET /api/v1/session/': session(role),
    'GET /api/v1/publications/': { count: rows.length, results: rows },
    'GET /api/v1/publishing-rules/': RULES,
  })

  it('are listed with how they stand', async () => {
    const rows = [
      row({}),
      row({ path: '/read/a/', corrections: 2 }),
      row({ path: '/read/b/', withdrawn_reason: 'mixed up' }),
    ]
    serve(answers('reader', rows))
    const { page } = await show(PublishedPages)
    const said = page.findAll('tbody tr').map((one) => one.text())
    expect(said[0]).toContain('as first published')
    expect(said[1]).toContain('2 corrections')
    expect(said[2]).toContain('withdrawn: mixed up')
    expect(page.find('form').exists()).toBe(false)
  })

  it('are written as files by an editor, as long work', async () => {
    const asked = serve({
      ...answers('editor', []),
      'POST /api/v1/publications/export/': { id: 1 },
    })
    const { page } = await show(PublishedPages)
    expect(page.text()).toContain('Nothing is published.')
    await press(page, 'Write them as files')
    expect(asked.some((one) => one.path.endsWith('/export/'))).toBe(true)
    expect(page.text()).toContain('They are being written')
  })

  it('bear the name that an editor gives the bench', async () => {
    const asked = serve({
      ...answers('editor', []),
      'PATCH /api/v1/publishing-rules/': { ...RULES, version: 2 },
    })
    const { page } = await show(PublishedPages)
    await page.get('.rules input').setValue('Gannet Yard Bench')
    await page.get('.rules').trigger('submit')
    await settle()
    expect(asked.find((one) => one.method === 'PATCH')?.body).toEqual({
      ...RULES,
      bench_name: 'Gannet Yard Bench',
    })
  })
})
