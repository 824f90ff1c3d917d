/** A version of the tune as a build lists it: in the car since a day after it was made. */
export const storedTune = <T extends object = object>(more: T = {} as T) => ({
  ...{ id: '11111111-1111-4111-8111-111111111111', number: 1, name: 'x', status: 'in-car', origin: 'computed', parentId: null },
  ...{ logId: null, createdBy: 'Ada', problems: [], createdAt: '2026-01-01T00:00:00Z', inCarSince: '2026-01-02T00:00:00Z' },
  ...more,
})
