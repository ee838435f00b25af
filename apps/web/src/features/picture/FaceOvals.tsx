import type { FaceMark } from '@gemmel/contract';

/** Soft ovals round the faces of a picture, with their names below. Box sizes are fractions of the picture. */
export function FaceOvals({
  faces,
  box,
  onFace,
}: {
  faces: readonly FaceMark[];
  box: { width: number; height: number };
  onFace: (face: FaceMark) => void;
}) {
  return (
    <>
      {faces.map((face) => {
        const [x, y, w, h] = face.box;
        const name =
          face.person?.name ??
          (face.state === 'passer-by' ? 'A passer-by' : face.likely ? `${face.likely.name}?` : 'Who is this?');
        const width = Math.max(28, w * box.width * 1.25);
        const height = Math.max(34, h * box.height * 1.3);
        const left = (x + w / 2) * box.width;
        const top = (y + h / 2) * box.height;
        return (
          <button
            key={face.id}
            type="button"
            onClick={() => onFace(face)}
            aria-label={face.person ? face.person.name : face.likely ? `Probably ${face.likely.name}` : name}
            style={{
              position: 'absolute',
              left: left - width / 2,
              top: top - height / 2,
              width,
              height,
              borderRadius: '50%',
              border: `2px ${face.person ? 'solid' : 'dashed'} #fffbf3`,
              boxShadow: '0 0 0 1.5px rgb(11 16 15 / 0.55), inset 0 0 0 1.5px rgb(11 16 15 / 0.4)',
              background: 'transparent',
              cursor: 'pointer',
              padding: 0,
            }}
          >
            <span
              style={{
                position: 'absolute',
                left: '50%',
                top: 'calc(100% + 5px)',
                transform: 'translateX(-50%)',
                whiteSpace: 'nowrap',
                background: 'rgb(11 16 15 / 0.82)',
                color: '#fffbf3',
                borderRadius: 9,
                padding: '3px 9px',
                fontSize: 13,
                fontFamily: 'Figtree_500Medium',
              }}
            >
              {name}
            </span>
          </button>
        );
      })}
    </>
  );
}
