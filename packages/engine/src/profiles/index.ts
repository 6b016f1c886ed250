export { fileTable, proofTable, type Conversion } from './tables'
export { MOST_PROFILE_BYTES, readProfile, type ProfileFacts } from './profile'
