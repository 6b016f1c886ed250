import type { Frame } from '@dunkelkammer/contract'

/** 0.003125 to "1/320 s". */
export const shutter = (seconds: number): string =>
  seconds >= 0.4 ? `${Number(seconds.toFixed(1))} s` : `1/${Math.round(1 / seconds)} s`

/** The taking of a frame in one line. */
export function takingLine({ metadata: m }: Frame): string {
  const parts = [
    m.focalLength && `${m.focalLength} mm`,
    m.exposureTime && shutter(m.exposureTime),
    m.fNumber && `f/${m.fNumber}`,
    m.iso && `ISO ${m.iso}`,
  ]
  return parts.filter(Boolean).join('  ')
}

/** By which deliveries a frame was delivered, in one line. */
export const deliveredLine = ({ deliveredBy, changedSince }: Frame): string =>
  deliveredBy ? `Delivered by ${deliveredBy.join(', ')}${changedSince ? ', changed since' : ''}` : ''

export const megabytes = (bytes: number): string => `${(bytes / 1e6).toFixed(1)} MB`

const DATE = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' })

export const moment = (iso: string): string => {
  const date = new Date(iso)
  return isNaN(date.getTime()) ? iso : DATE.format(date)
}

const CLOCK = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' })
const DAY = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short' })
const YEAR = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric' })

/** "14:32" today, "27 Nov" this year, "3 Mar 2026" before. */
export function clockTime(iso: string, now = new Date()): string {
  const date = new Date(iso)
  if (isNaN(date.getTime())) return iso
  if (date.toDateString() === now.toDateString()) return CLOCK.format(date)
  return (date.getFullYear() === now.getFullYear() ? DAY : YEAR).format(date)
}

/** Bytes as whole or tenths of gigabytes, small ones as megabytes. */
export const gigabytes = (bytes: number): string =>
  bytes < 1e9 ? megabytes(bytes) : `${(bytes / 1e9).toFixed(bytes < 1e10 ? 1 : 0)} GB`

/** A length of time, to what one plans by. */
export const duration = (seconds: number): string =>
  seconds < 90
    ? `${Math.max(1, Math.round(seconds))} s`
    : seconds < 5400
      ? `${Math.round(seconds / 60)} min`
      : `${(seconds / 3600).toFixed(1)} h`
