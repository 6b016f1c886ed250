export { findSources, reachFor, type FoundSource } from './source'
export { coverage, rectsOf, ringOf, spotOf, type Spot } from './spot'
