import type { Preset } from '../file'

/** A preset of our own. Its id stays what it is once given: libraries remember it. */
export interface ShippedPreset extends Preset {
  id: string
}
