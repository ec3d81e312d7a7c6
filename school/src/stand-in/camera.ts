/** A camera that sees a pencil going along a line: for machines that have none. */
export function standInCamera(): MediaStreamTrack {
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [320, 240];
  const pen = canvas.getContext('2d')!;
  const began = performance.now();
  const draw = () => {
    const t = (performance.now() - began) / 1000;
    pen.fillStyle = '#fffefb';
    pen.fillRect(0, 0, 320, 240);
    pen.strokeStyle = '#1f63b5';
    pen.lineWidth = 4;
    pen.beginPath();
    for (let x = 0; x <= ((t * 60) % 280) + 10; x += 4) pen.lineTo(20 + x, 130 + 40 * Math.sin(x / 34));
    pen.stroke();
    pen.fillStyle = '#24262a';
    pen.font = '20px sans-serif';
    pen.fillText(`Like this: ${t.toFixed(1)} s`, 20, 40);
  };
  const clock = setInterval(draw, 66);
  draw();
  const track = canvas.captureStream(15).getVideoTracks()[0]!;
  const stop = track.stop.bind(track);
  track.stop = () => {
    clearInterval(clock);
    stop();
  };
  return track;
}
