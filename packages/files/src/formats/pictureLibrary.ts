/** The library of still pictures, loaded when the first one is met: commands that read EXR only start without it. */
export async function pictureLibrary() {
  return (await import('sharp')).default;
}
