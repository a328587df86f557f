import { photoLimits } from "../../core/samples/photo";

/** The longer side of a photo that is kept, in points of the picture. */
const side = 800;

/** A picture made small, without what the camera wrote into it; it is drawn anew until it fits. */
export async function smallPicture(file: File): Promise<string | null> {
  const picture = await createImageBitmap(file);
  for (const [share, quality] of [
    [1, 0.6],
    [0.75, 0.5],
    [0.5, 0.5],
  ] as const) {
    const scale = Math.min(1, (side * share) / Math.max(picture.width, picture.height));
    const canvas = document.createElement("canvas");
    canvas.width = Math.round(picture.width * scale);
    canvas.height = Math.round(picture.height * scale);
    canvas.getContext("2d")?.drawImage(picture, 0, 0, canvas.width, canvas.height);
    const image = canvas.toDataURL("image/jpeg", quality);
    if (image.length <= photoLimits.characters) return image;
  }
  return null;
}
