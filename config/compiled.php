<?php

// Starts the script again with Pestle's PHP settings when it was started without: the JIT can't be switched on later.
(static function (): void {
    $folder = __DIR__.'/php';
    $scan = (string) getenv('PHP_INI_SCAN_DIR');
    if (str_contains($scan, $folder) || !function_exists('pcntl_exec')) {
        return;
    }
    $environment = getenv();
    $environment['PHP_INI_SCAN_DIR'] = $scan.':'.$folder;
    pcntl_exec(\PHP_BINARY, $_SERVER['argv'], $environment);
})();
