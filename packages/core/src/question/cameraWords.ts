/**
 * A camera as people call it. Files tell its maker and its model apart, and makers often say their name in both: "Fjordlys Fjordlys F7",
 * "FJORDLYS CORPORATION Fjordlys F7". What is said twice is said once, in the model's way of writing it.
 */
export function cameraWords(camera: string): string {
  const words = camera.split(' ');
  const again = words.findIndex((word, i) => i > 0 && word.toLowerCase() === words[0]!.toLowerCase());
  // A word at the very end is the model itself: a camera may be called like its maker.
  return again > 0 && again < words.length - 1 ? words.slice(again).join(' ') : camera;
}
