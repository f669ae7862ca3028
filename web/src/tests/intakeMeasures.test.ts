/** Callipers and screws: the outside of a motor, what fits it, and what happens without a server. */
import { afterEach, describe, expect, it, vi } from 'vitest'
import type { Component } from 'vue'
import ClaimStep from '@/features/intake/ClaimStep.vue'
import FitStep from '@/features/intake/FitStep.vue'
import OutsideStep from '@/features/intake/OutsideStep.vue'
import PhotoStrip from '@/features/photos/PhotoStrip.vue'
import { base, body, value } from './intakeServer'
import { aMotorFile, alerts, refusal, serve, settle, show } from './mounting'

// Keys are listened for on the window: a page of an earlier test must not hear them.
afterEach(() => {
  serve({})
  localStorage.clear()
  document.body.innerHTML = ''
})

describe('the outside', () => {
  const open = () => show(OutsideStep, { props: { file: aMotorFile(), sample: 7 } })
  const stored = (sent: unknown) => ({ id: 1, ...(sent as object), version: 1 })

  it('goes from one dimension to the next with Enter', async () => {
    const asked = serve({ ...base, 'PUT /api/v1/samples/7/teardown/': stored })
    const { page } = await open()
    await page.get('#m-total_height').setValue('31,2')
    await page.get('#m-total_height').trigger('keydown', { key: 'Enter' })
    await settle()
    expect(body(asked, 'PUT')[0]).toMatchObject({
      attribute: 'total_height',
      status: 'measured',
      value: 31.2,
      instrument: 'calliper',
    })
    expect(document.activeElement?.id).toBe('m-body_height')
    await page.get('#m-lead_gauge').setValue('20')
    await page.get('#m-lead_gauge').trigger('keydown', { key: 'Enter' })
    await settle()
    expect(body(asked, 'PUT')[1]).toMatchObject({ status: 'observed', value: 20, u: null })
  })

  it('keeps the version a dimension was begun from while somebody else measures it', async () => {
    const at = (version: number, v: number) => ({
      observations: [
        {
          id: 1,
          sample: 7,
          attribute: 'total_height',
          status: 'measured',
          value: v,
          u: null,
          version,
        },
      ],
      findings: [],
      not_applicable: [],
    })
    const path = 'GET /api/v1/samples/7/teardown/'
    serve({ ...base, [path]: at(5, 30) })
    const first = await open()
    // Typed, and the field not left: a draft, not yet an answer.
    const field = first.page.get('#m-total_height')
    ;(field.element as HTMLInputElement).value = '31'
    await field.trigger('input')
    await settle()
    first.page.unmount()
    const asked = serve({ ...base, [path]: at(6, 33), 'PUT /api/v1/samples/7/teardown/': stored })
    const { page } = await open()
    expect(value(page, '#m-total_height')).toBe('31')
    await page.get('#m-total_height').trigger('keydown', { key: 'Enter' })
    await settle()
    expect(body(asked, 'PUT')[0]).toMatchObject({ value: 31, version: 5 })
  })

  it('is typed by clicking the drawing, and follows while typing', async () => {
    serve(base)
    const { page } = await open()
    const callouts = page.findAll('.callout')
    await callouts[1]?.trigger('click')
    expect(document.activeElement?.id).toBe('m-body_height')
    await page.get('#m-body_height').setValue('18')
    expect(page.findAll('.callout')[1]?.text()).toContain('18')
    expect(page.findAll('.callout')[1]?.classes()).not.toContain('open')
  })

  it('says what cannot be beside its field and does not go on', async () => {
    serve({
      ...base,
      'PUT /api/v1/samples/7/teardown/': refusal(400, 'must be below', {
        fields: { value: ['Height of the body must be below the height over all.'] },
      }),
    })
    const { page } = await open()
    await page.get('#m-body_height').setValue('1800')
    await page.get('#m-body_height').trigger('keydown', { key: 'Enter' })
    await settle()
    expect(page.get('#f-body_height').text()).toContain('check the unit')
    await page.get('#m-body_height').setValue('40')
    await page.get('#m-body_height').trigger('keydown', { key: 'Enter' })
    await settle()
    expect(page.get('#f-body_height').text()).toContain('must be below')
    expect(value(page, '#m-body_height')).toBe('40')
    expect(document.activeElement?.id).toBe('m-body_height')
  })
})

describe('the fit', () => {
  const onPin = { hole_circle_mm: null, screw_mm: null, nut_mm: 5, washer_mm: 0.5 }
  const on = { ...onPin, diameter_mm: 5, free_length_mm: 13 }
  const fit = {
    arm_thickness_mm: 4,
    thread_depth_mm: 2.5,
    clearance_mm: 1.2,
    base_thickness_mm: 2.6,
    mount_thread_mm: 3,
    screws: [
      {
        length_mm: 8,
        in_box: true,
        outcome: 'hits_winding',
        reach_mm: 4,
        engagement_mm: 2.5,
        room_mm: -0.3,
        message: 'The screw ends inside the winding.',
      },
    ],
    leads: {
      length_mm: 150,
      needed_mm: null,
      state: 'unknown',
      message: 'Cannot say: no distance given.',
    },
    shaft: {
      diameter_mm: 5,
      free_length_mm: 13,
      nut_mm: 5,
      washer_mm: 0.5,
      hole_circle_mm: null,
      screw_mm: null,
      side: 'bell',
      hold: 'nut',
    },
    adapters_at_hand: 2,
    propellers: [
      {
        propeller: 1,
        name: 'Sallow 3x3x3',
        bore_mm: 2,
        hub_thickness_mm: 5,
        outcome: 'impossible',
        reason: '',
        rings: [],
        adapter: '',
        on,
        findings: [
          { code: 'too_tight', state: 'impossible', message: 'does not go over the shaft' },
        ],
      },
      {
        propeller: 2,
        name: 'Wickett 5.1x4.2x3',
        bore_mm: 5.02,
        hub_thickness_mm: 6,
        outcome: 'good',
        reason: '',
        rings: [],
        adapter: '',
        on,
        findings: [{ code: 'bore', state: 'good', message: '0.02 mm of play' }],
      },
    ],
  }

  it('shows every screw and every propeller with its reason, and draws them', async () => {
    serve({ ...base, 'GET /api/v1/motors/3/fit/': fit })
    const { page } = await show(FitStep, { props: { file: aMotorFile(), sample: 7 } })
    expect(page.text()).toContain('hits winding')
    expect(page.text()).toContain('does not go over the shaft')
    const drawings = page.findAll('svg[role=img]').map((svg) => svg.attributes('aria-label'))
    expect(drawings[0]).toBe('Screw of 8 mm through an arm of 4 mm: hits winding')
    expect(drawings[1]).toBe('Wickett 5.1x4.2x3 on the shaft: good')
    await page.findAll('.pick button')[1]?.trigger('click')
    expect(page.findAll('svg[role=img]')[1]?.attributes('aria-label')).toContain('impossible')
  })

  it('says what carries it where that is an adapter, and which side the shaft leaves on', async () => {
    const [bad, good] = fit.propellers
    const carried = {
      ...fit,
      shaft: { ...fit.shaft, side: 'base' },
      propellers: [
        { ...bad, on: null },
        { ...good, adapter: 'Collet 3 to 3.2' },
      ],
    }
    serve({ ...base, 'GET /api/v1/motors/3/fit/': carried })
    const { page } = await show(FitStep, { props: { file: aMotorFile(), sample: 7 } })
    expect(page.text()).toContain('on Collet 3 to 3.2')
    expect(page.text()).toContain('leaves on the mounting side')
    expect(page.text()).toContain('2 adapters of the rig are tried')
    const names = () => page.findAll('svg[role=img]').map((svg) => svg.attributes('aria-label'))
    expect(names()[1]).toBe('Wickett 5.1x4.2x3 on Collet 3 to 3.2: good')
    // What nothing carries is not drawn on a shaft that is not there.
    await page.findAll('.pick button')[1]?.trigger('click')
    expect(names()).toHaveLength(1)
  })

  it('does not take text for a field that was left empty', async () => {
    localStorage.setItem(
      'spindle.fit',
      JSON.stringify({ arm: '5O', screw: '8', washer: '', leads: '' }),
    )
    serve(base)
    const { page } = await show(FitStep, { props: { file: aMotorFile(), sample: 7 } })
    expect(alerts(page).join()).toContain('5O')
  })

  it('asks for what is missing instead of drawing it', async () => {
    const bare = { ...fit, thread_depth_mm: null, clearance_mm: null, propellers: [] }
    serve({ ...base, 'GET /api/v1/motors/3/fit/': bare })
    const { page } = await show(FitStep, { props: { file: aMotorFile(), sample: 7 } })
    expect(page.text()).toContain('The drawing needs the thread')
    expect(page.text()).toContain('The library is empty')
  })
})

describe('when the server does not answer', () => {
  const away = (path: string) =>
    Object.fromEntries(Object.entries(base).filter(([key]) => !key.includes(path)))
  it.each([
    ['claims', ClaimStep, { file: aMotorFile() }, 'claim-quantities'],
    ['measures', OutsideStep, { file: aMotorFile(), sample: 7 }, 'samples/7/teardown'],
    ['photos', PhotoStrip, { sample: 7, mark: 'A' }, 'samples/7/photos'],
    ['fit', FitStep, { file: aMotorFile(), sample: 7 }, 'fit'],
  ])('%s say so and offer another try', async (_, component, props, path) => {
    serve(away(path))
    const { page } = await show(component as Component, { props })
    await vi.waitFor(() => expect(page.text()).toContain('The server cannot be reached'))
    expect(page.text()).not.toContain('No photo yet.')
  })
})
