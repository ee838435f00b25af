import { t } from '@lingui/core/macro';
import { useId } from 'react';
import type { BookLayout, SheetsLayout } from '@gemmel/contract';
import { BLEED, lineHeight, POINT, TYPE, type PaperBox, type Part } from '@gemmel/core';
import { largeOf, smallOf } from '@/api/client';

type Placed = BookLayout['pages'][number]['pictures'][number];
type Text = BookLayout['pages'][number]['texts'][number];

/** How a picture looks whose number is known. */
export type Looks = ReadonlyMap<number, BookLayout['looks'][number]>;

const FONTS = {
  head: { fontFamily: 'Fraunces_600SemiBold, serif' },
  text: { fontFamily: 'Figtree_400Regular, sans-serif' },
  strong: { fontFamily: 'Figtree_600SemiBold, sans-serif' },
  slanted: { fontFamily: 'Fraunces_600SemiBold, serif', fontStyle: 'italic', fontWeight: 400 },
} as const;
/** The inks of paper, which are the same in the evening. */
const INK = '#1E2C2B';
const SOFT = '#5B6965';
const QUIET = new Set<Text['role']>(['foot', 'days', 'caption', 'year']);
/** How far down a line its letters stand, in sizes. */
const BASE = 0.94;

/** Where the whole of a picture lies so that a part of it fills a box. */
const wholeBox = ({ x, y, w, h }: PaperBox, part: Part | null): PaperBox =>
  part ? { x: x - (part.x / part.w) * w, y: y - (part.y / part.h) * h, w: w / part.w, h: h / part.h } : { x, y, w, h };

function Picture({
  placed,
  looks,
  large,
  chosen,
  id,
}: {
  placed: Placed;
  looks: Looks;
  large: boolean;
  chosen: boolean;
  id: string;
}) {
  const look = looks.get(placed.id);
  const { box, part, cameo } = placed;
  const whole = wholeBox(box, part);
  return (
    <g>
      <clipPath id={id}>
        {cameo ? (
          <ellipse cx={box.x + box.w / 2} cy={box.y + box.h / 2} rx={box.w / 2} ry={box.h / 2} />
        ) : (
          <rect x={box.x} y={box.y} width={box.w} height={box.h} />
        )}
      </clipPath>
      {look ? (
        <image
          href={large || part ? largeOf(look.sha) : smallOf(look.sha)}
          x={whole.x}
          y={whole.y}
          width={whole.w}
          height={whole.h}
          preserveAspectRatio="none"
          clipPath={`url(#${id})`}
        />
      ) : (
        <rect x={box.x} y={box.y} width={box.w} height={box.h} fill="#E0D6C3" />
      )}
      {chosen ? (
        <rect
          x={box.x - 1.2}
          y={box.y - 1.2}
          width={box.w + 2.4}
          height={box.h + 2.4}
          fill="none"
          stroke="#C97F12"
          strokeWidth={1.2}
        />
      ) : null}
    </g>
  );
}

const anchors = { left: 'start', center: 'middle', right: 'end' } as const;

function Lines({ text: { role, x, y, w, align, lines } }: { text: Text }) {
  const { size, font } = TYPE[role];
  const left = align === 'left' ? x : align === 'right' ? x + w : x + w / 2;
  return (
    <text
      style={FONTS[font]}
      fontSize={size * POINT}
      fill={role === 'stamp' ? '#F6F1E7' : QUIET.has(role) ? SOFT : INK}
      textAnchor={anchors[align]}
    >
      {lines.map((line, i) => (
        <tspan key={i} x={left} y={y + i * lineHeight(role) + size * POINT * BASE}>
          {line}
        </tspan>
      ))}
    </text>
  );
}

/** A journey on its map. */
function MapView({
  map,
  box,
  id,
}: {
  map: NonNullable<BookLayout['chapters'][number]['map']>;
  box: PaperBox;
  id: string;
}) {
  return (
    <svg x={box.x} y={box.y} width={box.w} height={box.h} viewBox={`0 0 1000 ${map.height}`} preserveAspectRatio="none">
      <clipPath id={id}>
        <rect width={1000} height={map.height} />
      </clipPath>
      <g clipPath={`url(#${id})`}>
        <rect width={1000} height={map.height} fill="#D5E2E0" />
        <path d={map.land} fill="#EDE4D2" />
        <path d={map.water} fill="#D5E2E0" />
        <path d={map.way} fill="none" stroke="#1C5A50" strokeWidth={5} strokeDasharray="14 10" strokeLinejoin="round" />
        {map.stops.map((stop, i) => (
          <g key={i}>
            <circle cx={stop.x} cy={stop.y} r={10} fill="#FFFFFF" stroke="#1C5A50" strokeWidth={5} />
            {stop.name ? (
              <text
                x={stop.x > 700 ? stop.x - 20 : stop.x + 20}
                y={stop.y + 10}
                fontSize={30}
                fill={INK}
                style={FONTS.text}
                textAnchor={stop.x > 700 ? 'end' : 'start'}
              >
                {stop.name}
              </text>
            ) : null}
          </g>
        ))}
      </g>
    </svg>
  );
}

/** A page of a book as it will be printed, trimmed. */
export function PageView({
  page,
  width,
  height,
  looks,
  map,
  large = false,
  chosen = null,
  onPick,
}: {
  page: BookLayout['pages'][number] | null;
  width: number;
  height: number;
  looks: Looks;
  map: BookLayout['chapters'][number]['map'];
  /** Whether its pictures are shown large. */
  large?: boolean;
  chosen?: number | null;
  /** Told which picture was pressed; null beside them. */
  onPick?: (picture: number | null) => void;
}) {
  const id = useId();
  if (!page) return <div style={{ aspectRatio: `${width} / ${height}`, width: '100%' }} />;
  const said = [
    page.pictures.length ? t`Page ${page.number}, with ${page.pictures.length} pictures` : t`Page ${page.number}`,
    ...page.texts.filter(({ role }) => role !== 'foot').map(({ lines }) => lines.join(' ')),
  ].join('. ');
  return (
    <svg
      role="img"
      aria-label={said}
      viewBox={`0 0 ${width} ${height}`}
      style={{ width: '100%', display: 'block', background: '#FFFFFF' }}
      onClick={(event) => {
        if (!onPick) return;
        const frame = event.currentTarget.getBoundingClientRect();
        const x = ((event.clientX - frame.left) / frame.width) * width;
        const y = ((event.clientY - frame.top) / frame.height) * height;
        onPick(
          page.pictures.find(({ box }) => x >= box.x && x <= box.x + box.w && y >= box.y && y <= box.y + box.h)?.id ??
            null,
        );
      }}
    >
      {page.pictures.map((placed, i) => (
        <Picture key={i} id={`${id}-${i}`} placed={placed} looks={looks} large={large} chosen={placed.id === chosen} />
      ))}
      {page.map && map ? <MapView id={`${id}-map`} map={map} box={page.map} /> : null}
      {page.texts.map((text, i) => (
        <Lines key={i} text={text} />
      ))}
    </svg>
  );
}

/** A book's cover, back and front. */
export function CoverView({ cover, looks }: { cover: BookLayout['cover']; looks: Looks }) {
  const id = useId();
  const { width, height, spine, picture, texts, along } = cover;
  const middle = { x: width / 2, y: height / 2 };
  return (
    <svg
      role="img"
      aria-label={t`The cover`}
      viewBox={`0 0 ${width} ${height}`}
      style={{ width: '100%', display: 'block', background: '#F6F1E7' }}
    >
      <rect x={(width - spine) / 2} y={-BLEED} width={spine} height={height + 2 * BLEED} fill="#EDE4D2" />
      {picture ? <Picture id={id} placed={picture} looks={looks} large chosen={false} /> : null}
      {texts.map((text, i) => (
        <Lines key={i} text={text} />
      ))}
      {along ? (
        <text
          style={FONTS.head}
          fontSize={Math.min(4.2, spine * 0.56)}
          fill={INK}
          textAnchor="middle"
          dominantBaseline="central"
          transform={`translate(${middle.x} ${middle.y}) rotate(-90)`}
        >
          {along}
        </text>
      ) : null}
    </svg>
  );
}

type Sheet = SheetsLayout['sheets'][number];
const LINES: Readonly<Record<Sheet['lines'][number]['tone'], string>> = {
  cut: '#000000',
  rule: '#C9BEA8',
  guide: '#C97F12',
};

/** A sheet of prints, a collage, a card or a month, as it will be printed. */
export function SheetView({ sheet, looks, label }: { sheet: Sheet; looks: Looks; label: string }) {
  const id = useId();
  const said = sheet.texts.map(({ lines }) => lines.join(' ')).join('. ');
  return (
    <svg
      role="img"
      aria-label={[label, said.slice(0, 300)].filter(Boolean).join('. ')}
      viewBox={`0 0 ${sheet.width} ${sheet.height}`}
      style={{
        width: '100%',
        display: 'block',
        background: sheet.background ?? '#FFFFFF',
        boxShadow: '0 3px 14px rgb(0 0 0 / .14)',
      }}
    >
      {sheet.pictures.map((placed, i) => (
        <Picture key={i} id={`${id}-${i}`} placed={placed} looks={looks} large={placed.box.w > 60} chosen={false} />
      ))}
      {sheet.lines.map(({ x1, y1, x2, y2, tone }, i) => (
        <line key={i} x1={x1} y1={y1} x2={x2} y2={y2} stroke={LINES[tone]} strokeWidth={0.2} />
      ))}
      {sheet.texts.map((text, i) => (
        <Lines key={i} text={text} />
      ))}
    </svg>
  );
}
