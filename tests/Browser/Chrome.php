<?php

namespace Pestle\Tests\Browser;

use Facebook\WebDriver\Chrome\ChromeDevToolsDriver;
use Facebook\WebDriver\Chrome\ChromeDriver;
use Facebook\WebDriver\Chrome\ChromeDriverService;
use Facebook\WebDriver\Chrome\ChromeOptions;
use Facebook\WebDriver\Remote\DesiredCapabilities;

/** Starts headless Chromium with a profile of its own; nothing of it reaches outside. */
final class Chrome
{
    private const WIDTH = 1280;
    private const HEIGHT = 800;

    public static function start(int $width = self::WIDTH, int $height = self::HEIGHT): ChromeDriver
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
        self::size($driver, $width, $height);

        return $driver;
    }

    /** A window as of a browser that was just started: what an address kept is gone, and all that was open. */
    public static function forget(ChromeDriver $driver, string $address): void
    {
        (new ChromeDevToolsDriver($driver))->execute('Storage.clearDataForOrigin', ['origin' => $address, 'storageTypes' => 'all']);
        /** @var list<string> $before */
        $before = $driver->getWindowHandles();
        $driver->switchTo()->newWindow();
        $new = $driver->getWindowHandle();
        foreach ($before as $window) {
            $driver->switchTo()->window($window)->close();
        }
        $driver->switchTo()->window($new);
        $driver->manage()->getLog('browser');
        self::size($driver, self::WIDTH, self::HEIGHT);
    }

    /** A window has borders; the page is to have the size asked for. */
    private static function size(ChromeDriver $driver, int $width, int $height): void
    {
        (new ChromeDevToolsDriver($driver))->execute('Emulation.setDeviceMetricsOverride', ['width' => $width, 'height' => $height, 'deviceScaleFactor' => 1, 'mobile' => false]);
    }

    public static function freePort(): int
    {
        $socket = stream_socket_server('tcp://127.0.0.1:0') ?: throw new \RuntimeException('No port is free.');
        $name = (string) stream_socket_get_name($socket, false);
        fclose($socket);

        return (int) substr($name, strrpos($name, ':') + 1);
    }
}
