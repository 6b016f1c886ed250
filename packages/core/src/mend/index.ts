export { findSources, reachFor, type FoundSource } from './source'
export { circleOf, coverage, rectsOf, ringOf, spotOf, type Spot } from './spot'
