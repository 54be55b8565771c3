import '@fontsource-variable/archivo/standard.css';
import '@fontsource-variable/piazzolla/standard.css';
import 'bootstrap/dist/css/bootstrap.min.css';
import './shell/theme.css';
import './shell/widgets.css';
import './shell/frame.css';
import './shell/easel.css';
import './shell/viewport.css';
import './shell/build-up.css';
import './shell/panels.css';
import './shell/unwrap.css';
import './shell/tray.css';
import './shell/start.css';
import { createRoot } from 'react-dom/client';
import { App } from './shell';

createRoot(document.getElementById('root')!).render(<App />);
