// Before anything is drawn: the look that was chosen for this device, day or lamp. Without one it is as the device prefers.
try { document.documentElement.dataset.look = localStorage.getItem("look") ?? ""; } catch { /* Storage may be forbidden. */ }
