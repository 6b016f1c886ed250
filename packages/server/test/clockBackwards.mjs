/** Loaded before a program: its clock goes backwards from when it was started. */
const Real = Date
const began = Real.now()
const now = () => began - 60 * (Real.now() - began)
globalThis.Date = class extends Real {
  constructor(...args) {
    if (args.length === 0) super(now())
    else super(...args)
  }
  static now = now
}
