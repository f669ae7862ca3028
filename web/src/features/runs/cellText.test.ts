import { describe, expect, it } from 'vitest'
import { readCell } from './cellText'

describe('what stands in a cell', () => {
  it.each([
    ['~40', 'about', [40]],
    ['about 40', 'about', [40]],
    ['ca. 40,5', 'about', [40.5]],
    ['~ -40', 'about', [-40]],
    ['< 900', 'below', [900]],
    ['under 900', 'below', [900]],
    ['just under 900', 'just_below', [900]],
    ['Just over 1 200', 'just_above', [1200]],
    ['>0', 'above', [0]],
    ['890-910', 'between', [890, 910]],
    ['890–910', 'between', [890, 910]],
    ['890 to 910', 'between', [890, 910]],
    ['-5 - 3', 'between', [-5, 3]],
    ['-5..-3', 'between', [-5, -3]],
    ['15,5 … 15,8', 'between', [15.5, 15.8]],
  ])('reads %s', (text, way, numbers) => {
    expect(readCell(text)).toEqual({ kind: 'said', way, numbers })
  })

  it.each([
    ['40', { kind: 'number', value: 40 }],
    ['-223', { kind: 'number', value: -223 }],
    [' ', { kind: 'empty' }],
    ['? clip 3 at 04:12', { kind: 'later', text: 'clip 3 at 04:12' }],
    ['?', { kind: 'later', text: '' }],
  ])('reads %s', (text, cell) => {
    expect(readCell(text)).toEqual(cell)
  })

  it.each([
    '~',
    'about',
    'about many',
    '<x',
    '910-890',
    '900-900',
    '~0',
    '1-2-3',
    'just under',
    '--5',
  ])('says that %s is none, and never reads it as nothing', (text) => {
    const cell = readCell(text)
    expect(cell.kind).toBe('wrong')
    expect(cell.kind === 'wrong' && cell.why).toBeTruthy()
  })

  it('tells a comma by what is possible', () => {
    expect(readCell('~15,500', [0, 120])).toEqual({ kind: 'said', way: 'about', numbers: [15.5] })
  })
})
