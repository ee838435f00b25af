// Work that waits a moment to gather many askings into one does not wait in tests.
process.env['GEMMEL_PACE'] ??= '0';
