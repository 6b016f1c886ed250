import { expect, it } from 'vitest'
import { feedDamaged } from '../../test/damagedFiles'

it('damaged files of every kind are refused in sentences or taken, by the server and by the shell', async () => {
  const outcome = await feedDamaged(72, 500)
  expect(outcome.taken + outcome.refused).toBe(72)
  expect(outcome.taken).toBeGreaterThan(3)
  expect(outcome.refused).toBeGreaterThan(3)
})
