import { brushTool } from './brush';
import { softenTool } from './soften';
import { smearTool } from './smear';
import { toneTool } from './tone';
import { copyTool } from './copy';
import { throughTool } from './through';
import { fillTool } from './fill';

/** Every tool that strokes are made with. A new one is a file beside these and a line here. */
export const TOOLS = [brushTool, softenTool, smearTool, toneTool, copyTool, throughTool, fillTool] as const;
