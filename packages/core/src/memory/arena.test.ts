import { describe, expect, it } from 'vitest'
import { random } from '../../test/bench'
import { Arena, ArenaFull, type Block } from './arena'

describe('arena', () => {
  it('never gives out the same byte twice and comes back to one gap', () => {
    let end = 0
    const arena = new Arena(1000, 1 << 30, (e) => (end = e))
    const held: Block[] = []
    const next = random(8)
    for (let i = 0; i < 3000; i++) {
      if (held.length > 0 && next() < 0.48) arena.free(held.splice(Math.floor(next() * held.length), 1)[0])
      else {
        const block = arena.alloc(1 + Math.floor(next() * 5000))
        expect(block.offset % 64).toBe(0)
        expect(block.offset + block.size).toBeLessThanOrEqual(end)
        for (const other of held)
          expect(block.offset >= other.offset + other.size || other.offset >= block.offset + block.size).toBe(
            true,
          )
        held.push(block)
      }
    }
    expect(arena.usage.used).toBe(held.reduce((s, b) => s + b.size, 0))
    held.forEach((b) => arena.free(b))
    expect(arena.usage.used).toBe(0)
    const before = end
    const whole = arena.alloc(end - 1024)
    expect(whole.offset).toBe(1024)
    expect(end).toBe(before)
  })

  it('grows a gap at the end instead of leaving it, and refuses beyond its limit', () => {
    let end = 0
    const arena = new Arena(0, 10000, (e) => (end = e))
    const a = arena.alloc(6400)
    arena.free(a)
    expect(arena.alloc(9600).offset).toBe(0)
    expect(end).toBe(9600)
    expect(() => arena.alloc(6400)).toThrow(ArenaFull)
    expect(arena.usage.used).toBe(9600)
  })
})
