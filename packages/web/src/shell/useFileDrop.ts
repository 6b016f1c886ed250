import { useState, type DragEvent } from 'react'

/** Lets files be dropped on an element. @returns whether some are over it, and what listens there */
export function useFileDrop(onDrop: (dropped: DataTransfer) => void) {
  const [over, setOver] = useState(false)
  const listeners = {
    onDragOver(e: DragEvent) {
      if (!e.dataTransfer.types.includes('Files')) return
      e.preventDefault()
      setOver(true)
    },
    onDragLeave(e: DragEvent) {
      if (!e.currentTarget.contains(e.relatedTarget as Node | null)) setOver(false)
    },
    onDrop(e: DragEvent) {
      e.preventDefault()
      setOver(false)
      onDrop(e.dataTransfer)
    },
  }
  return { over, listeners }
}
