/** A place in a picture or on the sensor. */
export interface Place {
  x: number
  y: number
}
