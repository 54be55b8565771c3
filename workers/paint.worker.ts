import './draco-module';
import { paintHandlers } from './paint-handlers';
import type { PaintEvents, PaintMethods } from './paint-protocol';
import { serve } from './rpc';

serve<PaintMethods, PaintEvents>(self, paintHandlers, { inLine: true, atOnce: ['ping'] });
