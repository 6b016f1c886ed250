export interface HostileRequest {
  path: string
  method?: string
  headers?: Record<string, string>
  body?: Uint8Array | string
}

const JSON_TYPE = { 'content-type': 'application/json' }
const NONE = '00000000-0000-4000-8000-000000000000'

/** Requests that no page of ours sends, each of which must be refused. */
export function hostileRequests(ids: {
  shootId: string
  frameId: string
  versionId: string
}): HostileRequest[] {
  const list: HostileRequest[] = []
  const send = (method: string, path: string, body: unknown) =>
    list.push({
      method,
      path,
      headers: JSON_TYPE,
      body: typeof body === 'string' ? body : JSON.stringify(body),
    })
  // ids that are none, or that try to be paths
  const bad = [
    'none',
    NONE,
    '..',
    '%2e%2e',
    '%2e%2e%2f%2e%2e%2fetc%2fpasswd',
    '%00',
    'a%00b',
    "'%20or%201=1--",
    '%E0%A4%A',
    '%ff%fe',
    'x'.repeat(3000),
    '__proto__',
    'constructor',
    '%7B%7D',
    '-1',
    '1e999',
  ]
  for (const id of bad) {
    for (const path of [
      `/api/shoots/${id}`,
      `/api/shoots/${id}/news?since=0`,
      `/api/frames/${id}`,
      `/api/frames/${id}/original`,
      `/api/frames/${id}/thumbnail`,
      `/api/frames/${id}/preview`,
      `/api/versions/${id}`,
      `/api/jobs/${id}`,
      `/api/jobs/${id}/files`,
      `/api/jobs/${id}/files/download`,
      `/api/jobs/${id}/files/${id}`,
    ])
      // a path that goes up may end at another address, which is none of these
      if (id !== '..' && id !== '%2e%2e') list.push({ path })
    if (id === '..' || id === '%2e%2e') continue
    list.push({ method: 'DELETE', path: `/api/shoots/${id}/bin` })
    send('PUT', `/api/versions/${id}/log`, { base: null, operations: [{}] })
    send('POST', `/api/jobs/${id}/cancel`, {})
    list.push({ method: 'PUT', path: `/api/frames/${id}/original`, body: 'x' })
    list.push({ path: `/api/looks/${id}/table` })
  }
  // bodies of every wrong shape
  const bodies: unknown[] = [
    '',
    '{',
    'null',
    '[]',
    '"text"',
    '12',
    '{"__proto__":{"name":"x"}}',
    '[[[[[[[[[[]]]]]]]]]]',
    `{"name":${'['.repeat(20000)}`,
    { name: '' },
    { name: 'x'.repeat(301) },
    { name: ['x'] },
    { name: 'x', more: 1 },
    { name: 'x', atImport: { creator: 'two\nlines' } },
    '\uFFFF',
  ]
  for (const body of bodies)
    for (const [method, path] of [
      ['POST', '/api/shoots'],
      ['PUT', `/api/shoots/${ids.shootId}/at-import`],
      ['POST', `/api/shoots/${ids.shootId}/import`],
      ['PATCH', '/api/frames'],
      ['POST', '/api/files'],
      ['POST', '/api/files/expected'],
      ['POST', '/api/deliveries'],
      ['PUT', `/api/versions/${ids.versionId}`],
      ['POST', `/api/frames/${ids.frameId}/versions`],
      ['POST', '/api/sidecars'],
      ['POST', '/api/originals/copies'],
      ['POST', '/api/looks/recipe'],
    ])
      send(method, path, body)
  // places where nothing may be read
  for (const path of [
    '/etc',
    '/etc/passwd',
    '/proc/self/mem',
    '/dev/zero',
    '../..',
    'file:///etc',
    '',
    '\u0000/',
  ])
    send('POST', `/api/shoots/${ids.shootId}/import`, { path })
  for (const fileName of [
    '../out',
    '/etc/out',
    '.hidden',
    'a\u0000b',
    'a/b',
    'a\\b',
    '',
    '\u202e'.repeat(200),
  ])
    send('POST', '/api/files', { frames: [{ id: ids.frameId }], deliveries: [{ fileName: `${fileName}{` }] })
  for (const delivery of [
    { format: { kind: 'exe' } },
    { format: { kind: 'jpeg', quality: 1e9 } },
    { format: { kind: 'tiff', bits: 7 } },
    { size: { by: 'long edge', pixels: -1 } },
    { size: { by: 'percent', percent: 1e30 } },
    { space: '../x' },
    { place: { in: 'library', subfolder: '../..' } },
    7,
  ])
    for (const path of ['/api/files', '/api/files/expected'])
      send('POST', path, { frames: [{ id: ids.frameId }], deliveries: [delivery] })
  send('POST', '/api/files', {
    frames: [{ id: ids.frameId }],
    deliveries: [{ place: { in: 'folder', path: '/etc' } }],
  })
  // files that are none
  const files = [
    '',
    'text',
    'x'.repeat(5000),
    '\u0089PNG',
    'II*\0\u0001\0\0\0',
    'MM\0*\0\0\0\u0008',
    '<svg onload="x"/>',
  ]
  for (const body of files)
    list.push({ method: 'POST', path: `/api/shoots/${ids.shootId}/frames?name=a.dng`, body })
  list.push({ method: 'POST', path: `/api/shoots/${NONE}/frames?name=a.dng`, body: 'text' })
  list.push({ method: 'PUT', path: `/api/frames/${ids.frameId}/original`, body: 'another file' })
  for (const body of ['', 'hello', '<a/>', '<!DOCTYPE x [<!ENTITY a "b">]><x/>'])
    list.push({ method: 'PUT', path: `/api/frames/${ids.frameId}/sidecar`, body })
  for (const body of ['', 'LUT_3D_SIZE 99999', 'LUT_3D_SIZE -1', 'LUT_3D_SIZE 2\nnan nan nan'])
    list.push({ method: 'POST', path: '/api/looks/table', headers: { 'content-type': 'text/plain' }, body })
  // encodings, methods, hosts
  for (const encoding of ['gzip', 'br', 'deflate', 'zstd-9', 'x'.repeat(100)])
    list.push({
      method: 'POST',
      path: '/api/shoots',
      headers: { ...JSON_TYPE, 'content-encoding': encoding },
      body: '{"name":"x"}',
    })
  for (const charset of ['utf-99', 'klingon', ''])
    list.push({
      method: 'POST',
      path: '/api/shoots',
      headers: { 'content-type': `application/json; charset=${charset}` },
      body: charset ? '{"name":"x"}' : '{"name":',
    })
  for (const method of ['PUT', 'DELETE', 'PATCH', 'OPTIONS', 'PROPFIND'])
    for (const path of ['/api/shoots/none/none', '/api/nothing', '/nothing.html'])
      if (method !== 'OPTIONS' || path !== '/nothing.html') list.push({ method, path })
  for (const host of [
    'mills.example',
    'localhost.evil.example',
    '127.0.0.1.evil.example',
    'evil.example:4717',
    '127.0.0.1@evil.example',
  ])
    list.push({ path: '/api/shoots', headers: { host } })
  for (const path of [
    '/..%2f..%2fetc/passwd.txt',
    '/assets/..%5c..%5cx.js',
    '/.git/config.js',
    '/%2e%2e/x.db',
  ])
    list.push({ path })
  return list
}
