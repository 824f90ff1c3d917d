/** A photo or file kept with a build: what it shows is an item of the survey, a joint, a part. */
export interface AttachedFile {
  id: string
  item: string
  name: string
  type: string
  size: number
  thumb: boolean
  who: string
  createdAt: string
}
export const MAX_FILE_BYTES = 12 * 1024 * 1024
export const MAX_THUMB_BYTES = 96 * 1024
export const MAX_BUILD_FILES = 300
