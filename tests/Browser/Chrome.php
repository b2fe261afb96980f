<?php

namespace Pestle\Tests\Browser;

use Facebook\WebDriver\Chrome\ChromeDriver;
use Facebook\WebDriver\Chrome\ChromeDriverService;
use Facebook\WebDriver\Chrome\ChromeOptions;
use Facebook\WebDriver\Remote\DesiredCapabilities;

/** Starts headless Chromium with a profile of its own; nothing of it reaches outside. */
final class Chrome
{
    public static function start(int $width = 1280, int $height = 800): ChromeDriver
    {
        $profile = sys_get_temp_dir().'/pestle-chrome-'.bin2hex(random_bytes(5));
        $options = new ChromeOptions();
        $options->setBinary('/usr/bin/chromium');
        $options->addArguments([
            '--headless=new', '--no-sandbox', '--disable-gpu', '--disable-background-networking', '--disable-component-update',
            '--disable-sync', '--no-first-run', '--disable-quic', '--hide-scrollbars', '--autoplay-policy=no-user-gesture-required',
            '--use-fake-device-for-media-stream', '--use-fake-ui-for-media-stream', '--disable-dev-shm-usage',
            '--host-resolver-rules=MAP * ~NOTFOUND , EXCLUDE 127.0.0.1',
            '--user-data-dir='.$profile, \sprintf('--window-size=%d,%d', $width, $height),
        ]);
        $options->setExperimentalOption('prefs', ['download.default_directory' => $profile.'/downloads']);
        $capabilities = DesiredCapabilities::chrome();
        $capabilities->setCapability(ChromeOptions::CAPABILITY, $options);
        $capabilities->setCapability('goog:loggingPrefs', ['browser' => 'ALL']);
        $port = self::freePort();
        $driver = ChromeDriver::start($capabilities, new ChromeDriverService('/usr/bin/chromedriver', $port, ['--port='.$port]));
        // The window has borders; the page is to have the size asked for.
        $driver->executeCustomCommand('/session/:sessionId/chromium/send_command', 'POST', [
            'cmd' => 'Emulation.setDeviceMetricsOverride',
            'params' => ['width' => $width, 'height' => $height, 'deviceScaleFactor' => 1, 'mobile' => false],
        ]);

        return $driver;
    }

    public static function freePort(): int
    {
        $socket = stream_socket_server('tcp://127.0.0.1:0') ?: throw new \RuntimeException('No port is free.');
        $name = (string) stream_socket_get_name($socket, false);
        fclose($socket);

        return (int) substr($name, strrpos($name, ':') + 1);
    }
}
