<?php

// Only the core and its tests are compiled by the JIT: sound needs it, and the frameworks' code is compiled wrongly now and then, which
// ends the process. Files count as compilable when they are first loaded while the JIT is on, so it is on just then.
(static function (): void {
    if (!in_array(ini_get('opcache.jit'), ['', 'off'], true)) {
        return;
    }
    spl_autoload_register(static function (string $class): void {
        foreach (['Pestle\\Core\\' => '/core/', 'Pestle\\Tests\\' => '/tests/'] as $prefix => $folder) {
            if (!str_starts_with($class, $prefix)) {
                continue;
            }
            $file = dirname(__DIR__).$folder.strtr(substr($class, strlen($prefix)), '\\', '/').'.php';
            if (is_file($file)) {
                ini_set('opcache.jit', 'tracing');
                require $file;
                ini_set('opcache.jit', 'off');
            }
        }
    }, prepend: true);
})();
