import { v4 as uuid } from 'uuid'
import { type AttachedFile, FileAnswer, MAX_FILE_BYTES } from '@vectum/core'
import { ApiError, upload } from '../api/client.ts'
import { thumbnailOf } from './thumbnail.ts'

const MB = 1048576

/**
 * Keeps a photo or file with a build, under the item that it shows.
 * @throws ApiError when it is too large, or the server refuses it, in words
 */
export async function keepFile(
  buildId: string,
  item: string,
  file: File,
  onProgress: (share: number) => void = () => {},
): Promise<AttachedFile> {
  if (file.size > MAX_FILE_BYTES)
    throw new ApiError(
      413,
      'FILE_TOO_LARGE',
      `"${file.name}" has ${(file.size / MB).toFixed(1)} MB; ${MAX_FILE_BYTES / MB} MB is the most.`,
    )
  const form = new FormData()
  form.append('id', uuid())
  form.append('item', item)
  const thumb = await thumbnailOf(file)
  if (thumb) form.append('thumb', thumb, 'thumb.jpg')
  form.append('file', file)
  return upload(`/builds/${buildId}/files`, FileAnswer, form, onProgress, new AbortController().signal)
}
