import '@fontsource-variable/archivo/standard.css';
import '@fontsource-variable/piazzolla/standard.css';
import 'bootstrap/dist/css/bootstrap.min.css';
import './shell/theme.css';
import './shared/widgets.css';
import './shared/dialogs.css';
import './shared/panels.css';
import './shell/frame.css';
import './shell/start/start.css';
import { createRoot } from 'react-dom/client';
import { App, keepForOffline } from './shell';

createRoot(document.getElementById('root')!).render(<App />);

// After all that is looked at first.
addEventListener('load', () => setTimeout(() => void keepForOffline(), 3000), { once: true });
