'use client';
import { memo } from 'react';
import { useModels } from '../state/useModels';
import NearMeOutlined from '@mui/icons-material/NearMeOutlined';
import ChangeHistory from '@mui/icons-material/ChangeHistory';
import HorizontalRule from '@mui/icons-material/HorizontalRule';
import CropSquare from '@mui/icons-material/CropSquare';
import DoorFrontOutlined from '@mui/icons-material/DoorFrontOutlined';
import SquareFootOutlined from '@mui/icons-material/SquareFootOutlined';
import PentagonOutlined from '@mui/icons-material/PentagonOutlined';
import Straighten from '@mui/icons-material/Straighten';
import DirectionsWalk from '@mui/icons-material/DirectionsWalk';
import FlagOutlined from '@mui/icons-material/FlagOutlined';
import { AREA_KINDS } from '@/core/design/areaCommands';
import { OPENING_KINDS } from '@/core/building/wall';
import { actionOf } from '../commands/actions';
import { OPENING_LABEL } from '../inspector/OpeningForm';
import type { ToolId } from '../plan/tools/tools';
import { Choice } from '../kit/Choice';
import { useDocument } from '../state/documentStore';
import type { Place } from '../state/selectors';
import { useSessionFields, type Stage } from '../state/sessionStore';
import { AREA_SHAPES, WALL_SHAPES } from '../state/types';
import { materialOptions, useMaterials } from '../state/useMaterials';
import { useWalker } from '../stages/survey/walker';

type ToolInfo = { tool: ToolId; label: string; icon: React.ReactNode };
const SELECT_TOOL: ToolInfo = { tool: 'select', label: 'Select', icon: <NearMeOutlined /> };
const LENGTH_TOOL: ToolInfo = { tool: 'length', label: 'Length', icon: <Straighten /> };

/** The tools of each stage, with their keys. */
export const TOOLS: Readonly<Record<Stage, readonly ToolInfo[]>> = {
  brief: [SELECT_TOOL, LENGTH_TOOL],
  building: [
    SELECT_TOOL,
    { tool: 'wall', label: 'Wall', icon: <HorizontalRule /> },
    { tool: 'room', label: 'Room', icon: <CropSquare /> },
    { tool: 'opening', label: 'Opening', icon: <DoorFrontOutlined /> },
    { tool: 'area', label: 'Area', icon: <PentagonOutlined /> },
    { tool: 'reference', label: 'True size', icon: <SquareFootOutlined /> },
    LENGTH_TOOL,
  ],
  design: [SELECT_TOOL, { tool: 'ap', label: 'AP', icon: <ChangeHistory /> }, LENGTH_TOOL],
  survey: [
    SELECT_TOOL,
    { tool: 'walk', label: 'Walk', icon: <DirectionsWalk /> },
    { tool: 'mark', label: 'Mark', icon: <FlagOutlined /> },
    LENGTH_TOOL,
  ],
  air: [SELECT_TOOL, LENGTH_TOOL],
};

const AREA_LABEL = {
  room: 'Room',
  service: 'Service',
  'keep-out': 'Keep out',
  clutter: 'Clutter',
  electronics: 'Electronics',
  'slab opening': 'Slab hole',
  hole: 'Hole',
  outline: 'Outline',
} as const;
const WALL_LABEL = { straight: 'Straight', arc: 'Arc' } as const;
const SHAPE_LABEL = { rectangle: 'Box', corners: 'Corners', fill: 'Fill walls' } as const;

export const Tools = memo(function Tools({ place }: { place: Place }) {
  const { stage, tool, modelId, materialId, openingKind, areaKind, areaShape, wallShape, set } = useSessionFields(
    'stage',
    'tool',
    'modelId',
    'materialId',
    'openingKind',
    'areaKind',
    'areaShape',
    'wallShape',
  );
  const hasDrawing = useDocument((s) => Object.values(s.design.drawings).some(({ floorId }) => floorId === place.floor.id));
  const { all } = useMaterials();
  const { all: models } = useModels();
  const walking = useWalker((s) => s.walkId !== null);
  return (
    <div role="toolbar" aria-label="Tools" aria-orientation="vertical" className="tools">
      {TOOLS[stage].map((info) => (
        <button
          key={info.tool}
          type="button"
          className="tool"
          aria-pressed={tool === info.tool}
          title={`${info.label} (${actionOf(`tool-${info.tool}`).key})`}
          disabled={(info.tool === 'walk' && !walking) || (info.tool === 'reference' && !hasDrawing)}
          onClick={actionOf(`tool-${info.tool}`).run}
        >
          {info.icon} {info.label}
        </button>
      ))}
      {tool === 'ap' && (
        <Choice
          label="Model to hang"
          value={modelId}
          options={models.map(({ id, name }) => ({ value: id, label: name }))}
          onChoose={(modelId) => set({ modelId })}
        />
      )}
      {tool === 'opening' && (
        <Choice
          label="Opening to put in"
          value={openingKind}
          options={OPENING_KINDS.map((kind) => ({ value: kind, label: OPENING_LABEL[kind] }))}
          onChoose={(openingKind) => set({ openingKind })}
        />
      )}
      {tool === 'area' && (
        <>
          <Choice
            label="Area to draw"
            value={areaKind}
            options={AREA_KINDS.map((kind) => ({ value: kind, label: AREA_LABEL[kind] }))}
            onChoose={(areaKind) => set({ areaKind })}
          />
          <Choice
            label="How it is drawn"
            value={areaShape}
            options={AREA_SHAPES.map((shape) => ({ value: shape, label: SHAPE_LABEL[shape] }))}
            onChoose={(areaShape) => set({ areaShape })}
          />
        </>
      )}
      {tool === 'wall' && (
        <Choice
          label="How walls are drawn"
          value={wallShape}
          options={WALL_SHAPES.map((shape) => ({ value: shape, label: WALL_LABEL[shape] }))}
          onChoose={(wallShape) => set({ wallShape })}
        />
      )}
      {(tool === 'wall' || tool === 'room') && (
        <Choice
          label="Material of new walls"
          value={materialId}
          options={materialOptions(all, null)}
          onChoose={(materialId) => set({ materialId })}
        />
      )}
    </div>
  );
});
