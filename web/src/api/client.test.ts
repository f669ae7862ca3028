import { describe, expect, it } from 'vitest'
import { ApiError, asJson, csrfToken, errorOf, fieldMessage, sentenceOf } from './client'

describe('what is sent', () => {
  it('is JSON', () => {
    expect(asJson({ a: 1, b: null, c: ['x'] })).toBe('{"a":1,"b":null,"c":["x"]}')
  })

  it.each([NaN, Infinity, -Infinity])(
    'refuses %s beside its field instead of erasing it',
    (value) => {
      try {
        asJson({ name: 'Drift', parcel: { price_amount: value } })
        expect.unreachable()
      } catch (error) {
        expect(fieldMessage(error, 'price_amount')).toContain('no number')
        expect(sentenceOf(error)).toContain('price amount')
      }
    },
  )
})

describe('the API client', () => {
  it('finds the CSRF token among other cookies', () => {
    expect(csrfToken('a=1; csrftoken=ab%3Dcd; b=2')).toBe('ab=cd')
    expect(csrfToken('a=1')).toBe('')
  })

  it('keeps code, message and fields of an error', async () => {
    const body = { code: 'invalid', message: 'No.', fields: { mark: ['Taken.'] }, where: null }
    const error = await errorOf(new Response(JSON.stringify(body), { status: 409 }))
    expect(error.status).toBe(409)
    expect(error.body.code).toBe('invalid')
    expect(fieldMessage(error, 'mark')).toBe('Taken.')
    expect(fieldMessage(error, 'name')).toBe('')
  })

  it('says the status when the answer is not JSON', async () => {
    const error = await errorOf(new Response('<html>', { status: 502 }))
    expect(error.message).toContain('502')
  })

  it('has a sentence for whatever was thrown', () => {
    const body = { code: 'x', message: 'Said.', fields: {}, where: null }
    expect(sentenceOf(new ApiError(400, body))).toBe('Said.')
    expect(sentenceOf('oops')).toBe('Something went wrong.')
  })
})
