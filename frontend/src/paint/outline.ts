/** An outline as a path, call for call as the exporter builds it. */
export function built(verbs: string, n: Float32Array): Path2D {
  const path = new Path2D();
  let i = 0;
  for (const verb of verbs) {
    if (verb === "M") path.moveTo(n[i++], n[i++]);
    else if (verb === "L") path.lineTo(n[i++], n[i++]);
    else if (verb === "Q") path.quadraticCurveTo(n[i++], n[i++], n[i++], n[i++]);
    else if (verb === "C") path.bezierCurveTo(n[i++], n[i++], n[i++], n[i++], n[i++], n[i++]);
    else path.closePath();
  }
  return path;
}
