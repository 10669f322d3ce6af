import Dropdown from 'react-bootstrap/Dropdown';
import Form from 'react-bootstrap/Form';
import { useBench, useView } from '../../state/benchStore';

/** What engravers fill lettering with. */
const FILLS: readonly (readonly [string | null, string])[] = [
  [null, 'not filled'],
  ['#16130f', 'filled black'],
  ['#f4f1e8', 'filled white'],
  ['#a3261d', 'filled red'],
  ['#1d3f7a', 'filled blue'],
];

interface Props {
  flat: boolean;
  onFlat(flat: boolean): void;
  showBlank: boolean;
  onBlank(show: boolean): void;
}

/** How the piece is looked at. */
export function LookMenu({ flat, onFlat, showBlank, onBlank }: Props) {
  const bench = useBench();
  const standing = useView((v) => v.standing);
  const followTool = useView((v) => v.followTool);
  const stops = useView((v) => v.stopAtDangers);
  const fill = useView((v) => v.fill);
  const byDepth = useView((v) => v.byDepth);
  return (
    <Dropdown autoClose="outside" align="end">
      <Dropdown.Toggle as="button" type="button" id="look-menu">
        Look
      </Dropdown.Toggle>
      <Dropdown.Menu className="look-menu">
        <Form.Check id="look-perspective" label="Perspective" checked={!flat} onChange={() => onFlat(!flat)} />
        <Form.Check
          id="look-standing"
          label="Stands on its end"
          checked={standing}
          onChange={() => bench.view.setState({ standing: !standing })}
        />
        <Form.Check
          id="look-follow"
          label="Turns under the tool"
          checked={followTool}
          onChange={() => bench.view.setState({ followTool: !followTool })}
        />
        <Form.Check
          id="look-stops"
          label="Play stops at dangers"
          checked={stops}
          onChange={() => bench.view.setState({ stopAtDangers: !stops })}
        />
        <Form.Check id="look-blank" label="Blank" checked={showBlank} onChange={() => onBlank(!showBlank)} />
        <Form.Check
          id="look-depth"
          label="Cut coloured by depth"
          checked={byDepth}
          onChange={() => bench.view.setState({ byDepth: !byDepth })}
        />
        <Form.Select
          size="sm"
          aria-label="Fill of cut lettering"
          value={fill ?? ''}
          onChange={(e) => bench.view.setState({ fill: e.target.value || null })}
        >
          {FILLS.map(([colour, text]) => (
            <option key={text} value={colour ?? ''}>
              {text}
            </option>
          ))}
        </Form.Select>
      </Dropdown.Menu>
    </Dropdown>
  );
}
