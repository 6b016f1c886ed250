import { DeliverySchema, LensProfileSchema, MOST_PRESET, PresetSchema } from '@dunkelkammer/core'
import { z } from 'zod'
import { CountSchema, OkSchema } from './basics'
import { FrameChangesSchema, FramePageSchema, FramesSchema, SidecarsWrittenSchema } from './frames'
import {
  EstimateSchema,
  ExpectedFilesSchema,
  MadeFileSchema,
  NewFilesSchema,
  HandedOverSchema,
  SavedDeliverySchema,
  WantedEstimateSchema,
} from './deliveries'
import { JobSchema } from './jobs'
import {
  LensAnswerSchema,
  LensFoundSchema,
  LensImportedSchema,
  LensListSchema,
  LensSummarySchema,
  LensWishSchema,
} from './lenses'
import { CopiesKeptSchema, KeepSidecarsSchema, LibraryPageSchema, RebuildSchema } from './library'
import { ColourProfileSchema } from './profiles'
import { LookEntrySchema, NewFramesSchema, NewRecipeSchema } from './looks'
import {
  GiveSettingsSchema,
  LightMatchSchema,
  MatchToSchema,
  HiddenGroupsSchema,
  ImportPresetsSchema,
  PresetChangeSchema,
  PresetEntrySchema,
  PresetOrderSchema,
  PresetsSchema,
  ReadPresetsSchema,
} from './presets'
import { route } from './route'
import {
  AtImportSchema,
  ImportFolderSchema,
  NewShootSchema,
  NewsSchema,
  OpenedFileSchema,
  OpenFileSchema,
  ShootChangeSchema,
  ShootPageSchema,
  ShootSchema,
  UploadResultSchema,
} from './shoots'
import {
  AppendedSchema,
  AppendSchema,
  LogPageSchema,
  LogStateSchema,
  NewVersionSchema,
  VersionChangeSchema,
  VersionSchema,
  VersionViewSchema,
} from './versions'

/** Something that is made. */
const MADE = 201
/** Work that is taken on, and done later. */
const TAKEN_ON = 202
const MEGABYTE = 2 ** 20

/** A number that says nothing where it is none. */
const number = (otherwise: number) => z.coerce.number().catch(otherwise).default(otherwise)
const words = (most: number) => z.string().trim().max(most)

/** Everything that is asked of the server and answered in JSON, under `/api`. */
export const ROUTES = {
  health: route('GET /health', OkSchema),

  shoots: route('GET /shoots', z.array(ShootSchema)),
  createShoot: route('POST /shoots', ShootSchema, { body: NewShootSchema, status: MADE }),
  shoot: route('GET /shoots/:id', ShootPageSchema),
  renameShoot: route('PATCH /shoots/:id', ShootSchema, { body: ShootChangeSchema }),
  removeShoot: route('DELETE /shoots/:id', CountSchema),
  setAtImport: route('PUT /shoots/:id/at-import', ShootSchema, { body: AtImportSchema }),
  news: route('GET /shoots/:id/news', NewsSchema, { query: z.object({ since: number(0) }) }),
  emptyBin: route('DELETE /shoots/:id/bin', CountSchema),
  importFolder: route('POST /shoots/:id/import', JobSchema, { body: ImportFolderSchema, status: TAKEN_ON }),
  /** The frame of a file on the server's disk; where no shoot holds it, it is brought in and stays where it is. */
  openFile: route('POST /open', OpenedFileSchema, { body: OpenFileSchema }),
  /** The body is the file. */
  upload: route('POST /shoots/:id/frames', UploadResultSchema, {
    query: z.object({ name: z.string().default(''), date: number(0) }),
    status: MADE,
  }),

  frame: route('GET /frames/:id', FramePageSchema),
  changeFrames: route('PATCH /frames', CountSchema, { body: FrameChangesSchema, most: 8 * MEGABYTE }),
  writeSidecars: route('POST /sidecars', SidecarsWrittenSchema, { body: FramesSchema }),
  keepCopies: route('POST /originals/copies', CopiesKeptSchema, { body: FramesSchema }),

  addVersion: route('POST /frames/:id/versions', VersionSchema, { body: NewVersionSchema, status: MADE }),
  orderVersions: route('PUT /frames/:id/versions/order', FramePageSchema, { body: FramesSchema }),
  version: route('GET /versions/:id', VersionSchema),
  changeVersion: route('PATCH /versions/:id', VersionSchema, { body: VersionChangeSchema }),
  removeVersion: route('DELETE /versions/:id', OkSchema),
  takeVersionBack: route('POST /versions/:id/take-back', VersionSchema),
  showVersion: route('POST /versions/:id/show', OkSchema),
  setVersionView: route('PUT /versions/:id/view', OkSchema, { body: VersionViewSchema }),
  appendToLog: route('POST /versions/:id/log', AppendedSchema, { body: AppendSchema }),
  /** The body is the bytes. */
  /** What an engine has found in a frame, kept until it is found anew. */
  putFound: route('PUT /frames/:id/found/:name', OkSchema),
  putBulk: route('PUT /bulk/:name', OkSchema),
  log: route('GET /versions/:id/log', LogPageSchema, {
    query: z.object({ before: number(Number.MAX_SAFE_INTEGER) }),
  }),
  /** The settings at an entry, or at "begun". */
  logAt: route('GET /versions/:id/log/:entry', LogStateSchema),

  library: route('GET /library', LibraryPageSchema),
  bringInUnknown: route(
    'POST /library/unknown/bring-in',
    z.object({ job: JobSchema, shoot: ShootSchema.optional() }),
    {
      status: TAKEN_ON,
    },
  ),
  /** The shoot is for files without a sidecar that names one, where there are any. */
  rebuild: route('POST /library/rebuild', z.object({ job: JobSchema, shoot: ShootSchema.optional() }), {
    body: RebuildSchema,
    status: TAKEN_ON,
  }),
  keepSidecars: route('PUT /library/sidecars', OkSchema, { body: KeepSidecarsSchema }),
  setUnknownAside: route('POST /library/unknown/set-aside', CountSchema),
  checkOriginals: route('POST /library/check', JobSchema, { status: TAKEN_ON }),

  jobs: route('GET /jobs', z.array(JobSchema)),
  job: route('GET /jobs/:id', JobSchema),
  cancelJob: route('POST /jobs/:id/cancel', JobSchema),
  mendDust: route('POST /dust', JobSchema, { body: FramesSchema, status: TAKEN_ON }),
  /** Settings go to the versions that stand for frames, and what they want found is looked for in each. */
  /** By what a frame's exposure and white come to agree with another frame's. Nothing is changed. */
  matchLight: route('POST /frames/:id/light', LightMatchSchema, { body: MatchToSchema }),
  giveSettings: route('POST /settings', JobSchema, {
    body: GiveSettingsSchema,
    most: 8 * MEGABYTE,
    status: TAKEN_ON,
  }),
  takeJobBack: route('POST /jobs/:id/take-back', JobSchema),
  pauseJob: route('POST /jobs/:id/pause', JobSchema),
  /** Goes on with a job that was paused or stopped, and tries again what of it failed. */
  continueJob: route('POST /jobs/:id/continue', JobSchema),

  deliver: route('POST /files', JobSchema, { body: NewFilesSchema, most: 8 * MEGABYTE, status: TAKEN_ON }),
  /** What a job would make; nothing is made. */
  expectFiles: route('POST /files/expected', ExpectedFilesSchema, {
    body: NewFilesSchema,
    most: 8 * MEGABYTE,
  }),
  /** About how large the files of a frame would be, from samples that are encoded. */
  estimateFiles: route('POST /files/estimate', EstimateSchema, {
    body: WantedEstimateSchema,
    most: 8 * MEGABYTE,
  }),
  filesOfJob: route('GET /jobs/:id/files', z.array(MadeFileSchema)),
  deliveries: route('GET /deliveries', z.array(SavedDeliverySchema)),
  addDelivery: route('POST /deliveries', SavedDeliverySchema, { body: DeliverySchema, status: MADE }),
  changeDelivery: route('PUT /deliveries/:id', SavedDeliverySchema, { body: DeliverySchema }),
  removeDelivery: route('DELETE /deliveries/:id', OkSchema),
  /** Names of the programs that files can be given to. */
  programs: route('GET /programs', z.array(z.string())),
  /** Files that something is waited for to come back of. */
  handedOver: route('GET /handed-over', z.array(HandedOverSchema)),
  /** Starts the program once more. */
  giveAgain: route('POST /handed-over/:id/again', HandedOverSchema),
  /** Waits no longer for what comes back. */
  waitNoLonger: route('POST /handed-over/:id/end', OkSchema),

  profiles: route('GET /profiles', z.array(ColourProfileSchema)),
  /** The body is an ICC profile. */
  addProfile: route('POST /profiles', ColourProfileSchema, { status: MADE }),
  removeProfile: route('DELETE /profiles/:id', OkSchema),

  looks: route('GET /looks', z.array(LookEntrySchema)),
  /** The body is the text of a .cube file. */
  addTable: route('POST /looks/table', LookEntrySchema, {
    query: z.object({ name: words(120).default('') }),
    status: MADE,
  }),
  addRecipe: route('POST /looks/recipe', LookEntrySchema, { body: NewRecipeSchema, status: MADE }),
  removeLook: route('DELETE /looks/:id', OkSchema),
  newFrames: route('GET /new-frames', NewFramesSchema),
  setNewFrames: route('PUT /new-frames', NewFramesSchema, { body: NewFramesSchema }),

  presets: route('GET /presets', PresetsSchema),
  addPreset: route('POST /presets', PresetEntrySchema, {
    body: PresetSchema,
    most: MOST_PRESET,
    status: MADE,
  }),
  changePreset: route('PATCH /presets/:id', PresetEntrySchema, {
    body: PresetChangeSchema,
    most: MOST_PRESET,
  }),
  removePreset: route('DELETE /presets/:id', OkSchema),
  takePresetBack: route('POST /presets/:id/take-back', PresetEntrySchema),
  orderPresets: route('PUT /presets/order', PresetsSchema, { body: PresetOrderSchema }),
  hideGroups: route('PUT /presets/hidden', PresetsSchema, { body: HiddenGroupsSchema }),
  /** Shipped presets as they came; what the user made of them stays beside them. */
  restorePresets: route('POST /presets/restore', PresetsSchema),
  /** The body is the file. Nothing is taken in. */
  readPresets: route('POST /presets/read', ReadPresetsSchema, {
    query: z.object({ name: words(300).default('the file') }),
  }),
  importPresets: route('POST /presets/import', CountSchema, {
    body: ImportPresetsSchema,
    most: 64 * MEGABYTE,
    status: MADE,
  }),

  lenses: route('GET /lenses', LensListSchema, { query: z.object({ search: words(200).default('') }) }),
  lens: route('GET /lenses/:id', LensAnswerSchema),
  findLens: route('POST /lenses/find', LensFoundSchema, { body: LensWishSchema }),
  addLens: route('POST /lenses', LensSummarySchema, { body: LensProfileSchema, status: MADE }),
  removeLens: route('DELETE /lenses/:id', OkSchema),
  /** The body is the text of a file of profiles. */
  importLenses: route('POST /lenses/import', LensImportedSchema, {
    query: z.object({ name: words(300).default('the file') }),
    status: MADE,
  }),
  importInstalledLenses: route('POST /lenses/import-installed', LensImportedSchema, { status: MADE }),
}

/** What comes or goes as a file, under `/api`. */
export const FILES = {
  original: '/frames/:id/original',
  sidecar: '/frames/:id/sidecar',
  preview: '/frames/:id/preview',
  thumbnail: '/frames/:id/thumbnail',
  zippedSidecars: '/sidecars/download',
  lookTable: '/looks/:id/table',
  /** See proofTable in the engine: 32-bit floats, little-endian. */
  proofTable: '/profiles/:id/proof',
  preset: '/presets/:id/file',
  zippedPresets: '/presets/download',
  bulk: '/bulk/:name',
  found: '/frames/:id/found/:name',
  madeFile: '/jobs/:id/files/:number',
  /** A small sRGB picture of one that holds a picture. */
  madeThumb: '/jobs/:id/files/:number/thumbnail',
  /** One that holds a picture as an sRGB JPEG, and the frame as it came of the same size. */
  madeView: '/jobs/:id/files/:number/view',
  madeOriginal: '/jobs/:id/files/:number/original',
  zippedFiles: '/jobs/:id/files/download',
} as const

/** Says that somebody is at work. */
export const AT_WORK = '/at-work'
