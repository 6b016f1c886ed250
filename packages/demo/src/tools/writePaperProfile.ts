/** Writes the profile of the made-up paper: `paper-profile FILE`. */
import { writeFileSync } from 'node:fs'
import { paperProfile } from '../paper/paperProfile'

writeFileSync(process.argv[2], paperProfile())
