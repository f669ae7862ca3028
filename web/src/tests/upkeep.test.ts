import { describe, expect, it, vi } from 'vitest'
import { clockFault, partState, roughly, size, sizeName } from '@/features/upkeep/upkeep'
import UpkeepPage from '@/features/upkeep/UpkeepPage.vue'
import UpkeepTag from '@/features/upkeep/UpkeepTag.vue'
import { alerts, refusal, serve, settle, show } from './mounting'

const PARTS = [
  { name: 'web process', running: true, answers: true, silent_s: 0.2, restarts: 0 },
  { name: 'bench agent', running: true, answers: false, silent_s: 200, restarts: 4 },
]
const upkeep = (changes: object = {}) => ({
  findings: [] as object[],
  seen_at: '2026-11-28T11:59:50Z',
  folder: '/srv/spindle/var/start',
  parts: PARTS,
  disk: { free_bytes: 25e9, total_bytes: 100e9, least_bytes: 2e9 },
  sizes: [
    { what: 'database', bytes: 252_906_182 },
    { what: 'packs', bytes: 0 },
  ],
  backups: {
    to: '/backups',
    at: '03:15',
    last: { at: '2026-11-28T03:15:00Z', path: '/backups/x.tar', bytes: 16.1e6, took_s: 1.84 },
    amiss: '',
  },
  bench: {
    state: 'idle',
    simulated: false,
    link: true,
    waiting_runs: 0,
    delivery_problem: '',
    aside: 0,
  },
  clock: { server_at: new Date().toISOString(), database_ahead_s: 0 },
  versions: { core: '0.3.0', database: '10.11-MariaDB' },
  ...changes,
})
const open = async (changes: object = {}) => {
  serve({ 'GET /api/v1/upkeep/': () => upkeep(changes) })
  return (await show(UpkeepPage, {})).page
}

describe('words of upkeep', () => {
  it.each([
    [0, 'empty'],
    [1, '1 kB'],
    [252_906_182, '252.9 MB'],
    [81_627_664_384, '81.6 GB'],
  ])('a size of %d bytes is %s', (bytes, words) => expect(size(bytes)).toBe(words))

  it.each([
    [4, '4 s'],
    [-200, '3 min'],
    [7200, '2 h'],
    [200_000, '2 days'],
  ])('%d s are roughly %s', (seconds, words) => expect(roughly(seconds)).toBe(words))

  it('a clock is told from five seconds on, and to which side', () => {
    expect(clockFault(5)).toBe('')
    expect(clockFault(-4.9)).toBe('')
    expect(clockFault(6)).toContain('6 s ahead of')
    expect(clockFault(-3600)).toContain('60 min behind')
  })

  it('a process that is not asked only runs', () => {
    expect(partState({ running: true, answers: true, silent_s: null })).toBe('runs')
    expect(partState({ running: true, answers: true, silent_s: 0 })).toBe('answers')
    expect(partState({ running: false, answers: false, silent_s: 3 })).toBe('does not run')
  })

  it('a size nobody named yet has its own name', () => {
    expect(sizeName('other_things')).toBe('other things')
  })
})

describe('the upkeep page', () => {
  it('says that all is well, and shows what there is', async () => {
    const page = await open()
    for (const words of [
      'Everything is in order.',
      '25.0 GB of 100.0 GB are free',
      '16.1 MB, made and checked in 1.8 s',
      'Every day at 03:15 into /backups',
      'has not answered for 3 min',
      '4 times',
      'agrees to 5 s',
    ])
      expect(page.text()).toContain(words)
    expect(page.text()).not.toContain('Data packs')
    expect(page.get('[role=img]').attributes('aria-label')).toBe('75 % of the disk is used')
  })

  it('says what has to be done, and how', async () => {
    const page = await open({
      findings: [
        { level: 'act', about: 'backups', sentence: 'Nothing was ever backed up.' },
        { level: 'act', about: 'bench', sentence: '1 run lies aside.' },
      ],
      backups: { to: '', at: '03:15', last: null, amiss: '' },
    })
    expect(page.text()).not.toContain('in order')
    expect(page.findAll('.amiss .act')).toHaveLength(2)
    expect(page.get('.amiss a').attributes('href')).toBe('/bench')
    expect(page.get('pre').text()).toContain('--daily 03:15')
    expect(page.text()).toContain('None was made yet.')
  })

  it('without a launcher and an agent it shows what it knows', async () => {
    const page = await open({
      seen_at: null,
      folder: '',
      parts: [],
      disk: null,
      sizes: [],
      backups: null,
      bench: null,
    })
    expect(page.text()).toContain('does not answer')
    expect(page.text()).toContain('not known')
    expect(page.text()).not.toContain('NaN')
  })

  it('tells a clock of this computer that is wrong', async () => {
    const page = await open({
      clock: { server_at: new Date(Date.now() - 3_600_000).toISOString(), database_ahead_s: 0 },
    })
    expect(page.text()).toContain('60 min ahead of')
    expect(page.text()).not.toContain('in order')
  })

  it('says why it could not be asked', async () => {
    serve({ 'GET /api/v1/upkeep/': () => refusal(503, 'The database does not answer.') })
    const { page } = await show(UpkeepPage, {})
    await settle()
    expect(alerts(page).join()).toContain('does not answer')
  })
})

describe('on the Board', () => {
  it('counts what has to be done, and is not there for nothing', async () => {
    const act = { level: 'act', about: 'disk', sentence: 'Full.' }
    const note = { level: 'note', about: 'launcher', sentence: 'Hm.' }
    serve({ 'GET /api/v1/upkeep/': vi.fn(() => upkeep({ findings: [act, note] })) })
    expect((await show(UpkeepTag, {})).page.text()).toBe('upkeep: 1 to do')
    serve({ 'GET /api/v1/upkeep/': () => upkeep({ findings: [note] }) })
    expect((await show(UpkeepTag, {})).page.text()).toBe('')
  })
})
