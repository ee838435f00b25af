// Work that waits a moment to gather many askings into one does not wait in tests.
process.env['GEMMEL_PACE'] ??= '0';
// Programs that tests start speak English, whatever this shell is set to.
process.env['LC_ALL'] = 'C.UTF-8';
