import { Dropdown } from 'react-bootstrap';
import { COLOR_VISIONS, PALETTE_LEAST, PALETTE_MOST } from '../../../core/color';
import { DIFFERENCES, type Simplified } from '../../../core/match';
import { Chip } from '../../shared/Chip';
import { useTip } from '../../shared/commands';
import { FixedMenu } from '../../shared/FixedMenu';
import { PAINT } from '../../shared/shown';
import { ShareSlider, Slider } from '../../shared/Slider';
import { useUi } from '../../shared/ui-store';
import { arrange, ARRANGED, useMatch } from '../match-ui';
import { ARRANGED_WORDS, DIFFERENCE_WORDS, howWords, VISION_WORDS } from '../match-words';

/** How the two pictures stand to one another, and how both are looked at: along the picture's upper edge. */
export function MatchChips() {
  const ui = useMatch();
  const tip = useTip();
  const shown = useUi((s) => s.shown);
  const panes = useUi((s) => s.panes);
  const set = (how: Simplified): void => useMatch.setState({ how });
  const is = (as: Simplified['as']): boolean => ui.how.as === as;
  return (
    <>
      <div className="view-chips left" role="group" aria-label="How the two are compared">
        {ARRANGED.map((a) => (
          <Chip
            key={a}
            on={ui.arranged === a}
            title={tip(ARRANGED_WORDS[a][1], `match-${a}`)}
            onClick={() => arrange(a)}
          >
            {ARRANGED_WORDS[a][0]}
          </Chip>
        ))}
        <Dropdown autoClose="outside">
          <Dropdown.Toggle
            as="button"
            type="button"
            className={`chip${shown.of === 'distance' ? ' on' : ''}`}
            title={tip(
              'How far the paint is from the reference, as colours on picture, model and sheet',
              'match-heat',
            )}
          >
            {shown.of === 'distance'
              ? `Distance: ${DIFFERENCE_WORDS[shown.difference].toLowerCase()}`
              : 'Distance'}
          </Dropdown.Toggle>
          <FixedMenu>
            <div className="pop">
              <div className="row" role="group" aria-label="Where the distance is seen">
                {(['model', 'sheet'] as const).map((kind) => (
                  <Chip
                    key={kind}
                    on={panes.left === kind}
                    onClick={() => useUi.setState({ panes: { ...panes, left: kind, right: 'match' } })}
                  >
                    {kind === 'model' ? 'On the model' : 'On the sheet'}
                  </Chip>
                ))}
              </div>
              <div className="row" role="group" aria-label="What of the distance">
                {DIFFERENCES.map((difference) => (
                  <Chip
                    key={difference}
                    on={shown.of === 'distance' && shown.difference === difference}
                    onClick={() => useUi.setState({ shown: { of: 'distance', difference } })}
                  >
                    {DIFFERENCE_WORDS[difference]}
                  </Chip>
                ))}
                <Chip on={shown.of !== 'distance'} onClick={() => useUi.setState({ shown: PAINT })}>
                  Paint
                </Chip>
              </div>
              <p className="hint-line">
                Dark is near, red is far. By lightness, chroma or hue alone: blue too little, orange too much.
              </p>
            </div>
          </FixedMenu>
        </Dropdown>
        {ui.arranged === 'over' && (
          <span className="chip-slider">
            <ShareSlider
              label="Painting"
              value={ui.opacity}
              onChange={(opacity) => useMatch.setState({ opacity })}
            />
          </span>
        )}
        {ui.arranged === 'flicker' && (
          <span className="chip-slider">
            <Slider
              label="A second"
              value={ui.rate}
              min={0.5}
              max={8}
              step={0.5}
              onChange={(rate) => useMatch.setState({ rate })}
            />
          </span>
        )}
      </div>
      <div className="view-chips right" role="group" aria-label="How both are looked at">
        <Chip
          on={is('colors')}
          title={tip('As they are', 'match-colors')}
          onClick={() => set({ as: 'colors' })}
        >
          Colour
        </Chip>
        <Chip
          on={is('values')}
          title={tip('Both in values', 'match-values')}
          onClick={() => set({ as: 'values' })}
        >
          Values
        </Chip>
        <Chip
          on={is('shapes')}
          title={tip('Both evened out to big shapes', 'match-shapes')}
          onClick={() => set({ as: 'shapes' })}
        >
          Big shapes
        </Chip>
        <Dropdown autoClose="outside" align="end">
          <Dropdown.Toggle
            as="button"
            type="button"
            className={`chip${is('tones') || is('palette') || is('vision') || ui.gameSize !== null || ui.mirrored || ui.upsideDown || ui.outlines ? ' on' : ''}`}
            title="In few tones or colours, at game size, turned over, through other eyes"
          >
            {howWords(ui)}
          </Dropdown.Toggle>
          <FixedMenu>
            <div className="pop match-pop">
              <Slider
                label="Tones"
                says="Both in so many tones"
                value={ui.how.as === 'tones' ? ui.how.count : 2}
                min={2}
                max={8}
                step={1}
                onChange={(count) => set({ as: 'tones', count })}
              />
              <Slider
                label="Colours"
                says="Both in so many colours"
                value={ui.how.as === 'palette' ? ui.how.count : 8}
                min={PALETTE_LEAST}
                max={PALETTE_MOST}
                step={1}
                onChange={(count) => set({ as: 'palette', count })}
              />
              <div className="row" role="group" aria-label="Game size">
                {([null, 64, 96, 128, 192, 256] as const).map((gameSize) => (
                  <Chip
                    key={gameSize ?? 0}
                    on={ui.gameSize === gameSize}
                    title={gameSize === null ? 'As large as there is room' : `${gameSize} pixels high`}
                    onClick={() => useMatch.setState({ gameSize })}
                  >
                    {gameSize ?? 'Large'}
                  </Chip>
                ))}
              </div>
              <div className="row" role="group" aria-label="Turned over">
                <Chip on={ui.mirrored} onClick={() => useMatch.setState({ mirrored: !ui.mirrored })}>
                  Mirrored
                </Chip>
                <Chip on={ui.upsideDown} onClick={() => useMatch.setState({ upsideDown: !ui.upsideDown })}>
                  Upside down
                </Chip>
                <Chip
                  on={ui.outlines}
                  title="The outline of each on the other: yellow the reference’s, dark the model’s, white both"
                  onClick={() => useMatch.setState({ outlines: !ui.outlines })}
                >
                  Outlines
                </Chip>
              </div>
              <div className="row" role="group" aria-label="Through eyes that lack a kind of cone">
                {COLOR_VISIONS.map((vision) => (
                  <Chip
                    key={vision}
                    on={ui.how.as === 'vision' && ui.how.vision === vision}
                    title={VISION_WORDS[vision][1]}
                    onClick={() =>
                      set(
                        ui.how.as === 'vision' && ui.how.vision === vision
                          ? { as: 'colors' }
                          : { as: 'vision', vision },
                      )
                    }
                  >
                    {VISION_WORDS[vision][0]}
                  </Chip>
                ))}
              </div>
            </div>
          </FixedMenu>
        </Dropdown>
      </div>
    </>
  );
}
