import type { FrameMetadata } from '@dunkelkammer/core'
import type { AtImport, Job, MadeFile, Mark } from '@dunkelkammer/contract'
import {
  blob,
  index,
  integer,
  primaryKey,
  real,
  sqliteTable,
  text,
  uniqueIndex,
} from 'drizzle-orm/sqlite-core'

export const shoots = sqliteTable('shoots', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  created: text('created').notNull(),
  /** What is written into every frame that comes in. */
  atImport: text('at_import', { mode: 'json' }).$type<AtImport>().notNull().default({}),
})

/** Original files by the hash of their content; their bytes lie in the library folder. */
export const originals = sqliteTable('originals', {
  hash: text('hash').primaryKey(),
  size: integer('size').notNull(),
  /** Path of an original that stays where it is; in the library's folder where missing. */
  inPlace: text('in_place'),
  ending: text('ending').notNull().default('.dng'),
  /** Size, time and place on the disk of the file as it was when its hash was last checked. */
  stamp: text('stamp'),
})

/** Originals whose removal was asked for and is not yet done on the disk. */
export const removals = sqliteTable('removals', {
  hash: text('hash').primaryKey(),
  ending: text('ending').notNull(),
})

export const frames = sqliteTable(
  'frames',
  {
    id: text('id').primaryKey(),
    shootId: text('shoot_id')
      .notNull()
      .references(() => shoots.id),
    original: text('original')
      .notNull()
      .references(() => originals.hash),
    fileName: text('file_name').notNull(),
    width: integer('width').notNull(),
    height: integer('height').notNull(),
    /** Byte range of the embedded JPEG, if there is one. */
    previewOffset: integer('preview_offset'),
    previewLength: integer('preview_length'),
    metadata: text('metadata', { mode: 'json' }).$type<FrameMetadata>().notNull(),
    taken: text('taken'),
    fileDate: text('file_date'),
    format: text('format').notNull().default('dng'),
    rating: integer('rating').notNull().default(0),
    mark: text('mark').$type<Mark>().notNull().default('none'),
    title: text('title').notNull().default(''),
    caption: text('caption').notNull().default(''),
    creator: text('creator').notNull().default(''),
    copyright: text('copyright').notNull().default(''),
    keywords: text('keywords', { mode: 'json' }).$type<string[]>().notNull().default([]),
    edited: integer('edited', { mode: 'boolean' }).notNull().default(false),
    delivered: text('delivered'),
    /** Names of the deliveries by which it was, of the settings as they were last delivered. */
    deliveredBy: text('delivered_by', { mode: 'json' }).$type<string[]>().notNull().default([]),
    /** What the thumbnail of those settings is called. */
    deliveredAs: text('delivered_as'),
    /** The version that the sheet shows; the first where none is said. */
    shown: text('shown'),
    /** The stack that the user put it into; by the time of its taking where there is none. */
    stack: text('stack'),
    /** What the stored thumbnail was made from: "preview", or the revision of the version; nothing while there is none. */
    thumb: text('thumb'),
    /** What `changed` was when its sidecar was last written. */
    sidecar: integer('sidecar').notNull().default(0),
    /** Counts up with every change of any frame, so that a page can ask what is new. */
    changed: integer('changed').notNull().default(0),
  },
  (t) => [
    uniqueIndex('frames_content').on(t.shootId, t.original),
    index('frames_by_time').on(t.shootId, t.taken),
    index('frames_by_change').on(t.shootId, t.changed),
    index('frames_by_original').on(t.original),
  ],
)

export const versions = sqliteTable(
  'versions',
  {
    id: text('id').primaryKey(),
    frameId: text('frame_id')
      .notNull()
      .references(() => frames.id),
    name: text('name').notNull(),
    /** Its place among the versions of its frame. */
    position: integer('position').notNull().default(0),
    /** Counts the appends to its log. */
    revision: integer('revision').notNull(),
    /** What the frame began with, as Development, and in words. Nothing where the version is as `state` says. */
    begun: text('begun', { mode: 'json' }).$type<unknown>(),
    begunAs: text('begun_as').notNull().default('As taken'),
    /** Entries of the log: where it stands, and the end of the branch that it stands on. Nothing: as begun. */
    head: text('head'),
    tip: text('tip'),
    /** Settings at the head, as Development; as begun where there are none. */
    development: text('development', { mode: 'json' }).$type<unknown>(),
    /** Whether these are other than what the frame began with. */
    edited: integer('edited', { mode: 'boolean' }).notNull().default(false),
    /** What is only looked at, as VersionView. */
    view: text('view', { mode: 'json' }).$type<unknown>(),
    /** All states saved whole, as versions were before they had a log; read once. */
    state: text('state', { mode: 'json' }).$type<unknown>(),
    changed: text('changed').notNull(),
    /** When it was deleted; it can be taken back. */
    deleted: text('deleted'),
  },
  (t) => [index('versions_by_frame').on(t.frameId)],
)

/** What was done to versions: appended, never changed but for the names that the user gives. */
export const log = sqliteTable(
  'log',
  {
    id: text('id').primaryKey(),
    versionId: text('version_id')
      .notNull()
      .references(() => versions.id),
    /** Counts the operations of a version. */
    number: integer('number').notNull(),
    kind: text('kind').$type<'change' | 'go' | 'name'>().notNull(),
    /** Of a change what it was made on; of the others where they lead, or what they name. */
    parent: text('parent'),
    label: text('label').notNull(),
    /** Of a change what it changed, as Change[]. */
    changes: text('changes', { mode: 'json' }).$type<unknown>(),
    time: text('time').notNull(),
    gesture: text('gesture'),
    /** The preset that it applied, as PresetMark. */
    preset: text('preset', { mode: 'json' }).$type<unknown>(),
    /** What the user calls it. */
    name: text('name'),
    /** Entries from the beginning. */
    depth: integer('depth').notNull().default(0),
    /** Now and then the settings after it, as Development, so that not all of a log has to be read. */
    snapshot: text('snapshot', { mode: 'json' }).$type<unknown>(),
  },
  (t) => [uniqueIndex('log_by_number').on(t.versionId, t.number)],
)

/** Numbers that only ever count up. */
export const counters = sqliteTable('counters', {
  name: text('name').primaryKey(),
  value: integer('value').notNull(),
})

export const jobs = sqliteTable('jobs', {
  id: text('id').primaryKey(),
  kind: text('kind').$type<Job['kind']>().notNull(),
  state: text('state').$type<Job['state']>().notNull(),
  title: text('title').notNull(),
  progress: real('progress').notNull(),
  message: text('message').notNull(),
  problems: text('problems', { mode: 'json' }).$type<string[]>().notNull(),
  /** What was asked for, so that the job can be told apart after a restart. */
  request: text('request', { mode: 'json' }).$type<unknown>().notNull(),
  fileName: text('file_name'),
  /** What it has made that can be taken back. */
  made: text('made', { mode: 'json' }).$type<unknown>(),
  created: text('created').notNull(),
  /** The run of the server that is at it. */
  lease: text('lease'),
  /** Some of what it was to do was not done, and can be tried again. */
  retries: integer('retries', { mode: 'boolean' }).notNull().default(false),
})

/** Files that jobs make, each by itself: what was done of a job outlives a stop. */
export const jobParts = sqliteTable(
  'job_parts',
  {
    jobId: text('job_id')
      .notNull()
      .references(() => jobs.id),
    number: integer('number').notNull(),
    frameId: text('frame_id').notNull(),
    frameName: text('frame_name').notNull(),
    versionId: text('version_id').notNull(),
    /** Which of the job's deliveries, and its name. */
    delivery: integer('delivery').notNull(),
    deliveryName: text('delivery_name').notNull(),
    state: text('state').$type<MadeFile['state']>().notNull(),
    partial: text('partial'),
    file: text('file'),
    inode: integer('inode'),
    bytes: integer('bytes'),
    width: integer('width'),
    height: integer('height'),
    message: text('message'),
    /** When its file was made. */
    made: text('made'),
  },
  (t) => [primaryKey({ columns: [t.jobId, t.number] }), index('job_parts_by_frame').on(t.frameId)],
)

/** Files that were given to other programs: what comes back of them becomes frames. */
export const handOvers = sqliteTable(
  'hand_overs',
  {
    id: text('id').primaryKey(),
    /** The part of a job that made the file. */
    jobId: text('job_id').notNull(),
    number: integer('number').notNull(),
    frameId: text('frame_id').notNull(),
    delivery: text('delivery').notNull(),
    program: text('program'),
    folder: text('folder').notNull(),
    fileName: text('file_name').notNull(),
    given: text('given').notNull(),
    /** Stamps of the folder's files that need not be looked at again, by their names. */
    seen: text('seen', { mode: 'json' }).$type<Record<string, string>>().notNull(),
    back: integer('back').notNull().default(0),
    problem: text('problem'),
    /** When the user no longer waited for it. */
    ended: text('ended'),
  },
  (t) => [uniqueIndex('hand_overs_by_part').on(t.jobId, t.number)],
)

/** Saved descriptions of files, in the user's order. */
export const deliveries = sqliteTable('deliveries', {
  id: text('id').primaryKey(),
  position: integer('position').notNull(),
  delivery: text('delivery', { mode: 'json' }).$type<unknown>().notNull(),
  /** No longer offered. */
  removed: integer('removed', { mode: 'boolean' }).notNull().default(false),
})

/** Looks that the user has brought or made: tables of colours lie as files, recipes here. */
export const looks = sqliteTable('looks', {
  /** A table's hash, a recipe's own id. */
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  kind: text('kind').$type<'table' | 'recipe'>().notNull(),
  recipe: text('recipe', { mode: 'json' }).$type<unknown>(),
  /** No longer offered; developments that use it go on. */
  removed: integer('removed', { mode: 'boolean' }).notNull().default(false),
  created: text('created').notNull(),
})

/** Presets that the user has made, and those of ours that the user has changed or removed, by their ids. */
export const presets = sqliteTable('presets', {
  id: text('id').primaryKey(),
  /** All of it, as its file holds it. */
  file: text('file', { mode: 'json' }).$type<unknown>().notNull(),
  /** No longer offered. */
  removed: integer('removed', { mode: 'boolean' }).notNull().default(false),
  created: text('created').notNull(),
})

/** Bulk data that settings speak of by the hash of its content: painted paths. It never changes. */
export const bulk = sqliteTable('bulk', {
  name: text('name').primaryKey(),
  bytes: blob('bytes', { mode: 'buffer' }).notNull(),
  created: text('created').notNull(),
})

/** Settings of the library, each under its name. */
export const settings = sqliteTable('settings', {
  key: text('key').primaryKey(),
  value: text('value', { mode: 'json' }).$type<unknown>().notNull(),
})

/** Profiles of lenses: shipped, imported, or made from a picture. */
export const lenses = sqliteTable('lenses', {
  id: text('id').primaryKey(),
  origin: text('origin').$type<'shipped' | 'imported' | 'picture'>().notNull(),
  maker: text('maker').notNull(),
  model: text('model').notNull(),
  mounts: text('mounts', { mode: 'json' }).$type<string[]>().notNull(),
  crop: real('crop').notNull(),
  focalFrom: real('focal_from').notNull(),
  focalTo: real('focal_to').notNull(),
  /** All of it, as LensProfile. */
  profile: text('profile', { mode: 'json' }).$type<unknown>().notNull(),
})

/** Cameras of imported lens databases: which lenses they take, and the size of their sensors. */
export const cameras = sqliteTable(
  'cameras',
  {
    maker: text('maker').notNull(),
    model: text('model').notNull(),
    mount: text('mount').notNull(),
    crop: real('crop').notNull(),
  },
  (t) => [primaryKey({ columns: [t.maker, t.model] })],
)
