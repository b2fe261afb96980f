<?php

// For PHP's own server: files that were built are sent as they are, all else is a page.
$path = (string) parse_url($_SERVER['REQUEST_URI'] ?? '/', \PHP_URL_PATH);
if (str_starts_with($path, '/build/') && !str_contains($path, '..') && is_file(__DIR__.$path)) {
    $types = ['css' => 'text/css', 'js' => 'text/javascript', 'woff2' => 'font/woff2', 'svg' => 'image/svg+xml'];
    header('Content-Type: '.($types[pathinfo($path, \PATHINFO_EXTENSION)] ?? 'application/octet-stream'));
    header('Cache-Control: no-cache');
    header('X-Content-Type-Options: nosniff');
    readfile(__DIR__.$path);

    return true;
}
require __DIR__.'/index.php';
