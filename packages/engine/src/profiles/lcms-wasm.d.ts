declare module 'lcms-wasm' {
  /** Handles are addresses in the module's memory; 0 where there is none. */
  export interface Lcms {
    HEAPU8: Uint8Array
    _malloc(bytes: number): number
    _free(address: number): void
    _cmsOpenProfileFromMem(address: number, bytes: number): number
    cmsCloseProfile(profile: number): void
    cmsCreateLab4Profile(white?: readonly number[]): number
    cmsGetProfileInfoASCII(profile: number, info: number, language: string, country: string): string
    cmsCreateTransform(
      from: number,
      fromFormat: number,
      to: number,
      toFormat: number,
      intent: number,
      flags: number,
    ): number
    cmsDeleteTransform(transform: number): void
    cmsDoTransform(transform: number, values: Float32Array, count: number): Float32Array
  }
  export function instantiate(): Promise<Lcms>
}
