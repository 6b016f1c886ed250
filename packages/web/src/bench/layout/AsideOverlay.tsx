import { atom, useAtomValue } from 'jotai'
import { AsideNotice } from '../../desk/AsideNotice'
import { deskAtom, standAtom } from '../state/atoms'

const asideAtom = atom((get) => get(standAtom).aside !== undefined)

/** Another window had changed the same. */
export function AsideOverlay() {
  const desk = useAtomValue(deskAtom)
  const aside = useAtomValue(asideAtom)
  return aside && <AsideNotice onTake={() => void desk.takeAside()} onLeave={() => desk.dismissAside()} />
}
