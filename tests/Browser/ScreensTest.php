<?php

namespace Pestle\Tests\Browser;

use Facebook\WebDriver\Chrome\ChromeDevToolsDriver;
use PHPUnit\Framework\Attributes\DataProvider;

/** Every screen for everybody: by day and night, by key and pointer, narrow and wide. */
final class ScreensTest extends PageCase
{
    /** @return iterable<string, array{string}> */
    public static function screens(): iterable
    {
        foreach (['/', '/beats/1/gather', '/beats/1/chop', '/beats/1/chop?tool=fit', '/beats/1/kit', '/beats/1/pattern', '/beats/1/pattern?part=part-3', '/beats/1/arrange', '/beats/1/arrange?view=song', '/beats/1/mix', '/beats/1/mix?channel=c2&insert=i1', '/beats/1/deliver', '/nowhere'] as $path) {
            yield $path => [$path];
        }
    }

    #[DataProvider('screens')]
    public function testNobodyIsShutOut(string $path): void
    {
        // By night only the colours differ.
        foreach (['night' => "runOnly: ['color-contrast']", 'day' => "resultTypes: ['violations'], rules: { 'target-size': { enabled: true } }"] as $theme => $rules) {
            $this->open($path);
            $this->chrome->executeScript("localStorage.setItem('pestle-theme', '$theme')");
            $this->open($path);
            usleep(400_000);
            $this->chrome->executeScript((string) file_get_contents(\dirname(__DIR__, 2).'/node_modules/axe-core/axe.min.js'));
            self::assertSame($theme, $this->script('return document.documentElement.dataset.theme'));
            $found = $this->script("const r = await axe.run(document, {{$rules}}); return r.violations.filter((v) => ['serious', 'critical'].includes(v.impact)).map((v) => v.id + ': ' + v.nodes.slice(0, 3).map((n) => n.html.slice(0, 140)).join(' | '))");
            self::assertSame([], $found);
            self::assertLessThanOrEqual(1280, $this->script('return document.documentElement.scrollWidth'), 'nothing hangs out of the page');
        }
    }

    /** At any width letters and handles are as large as elsewhere, and a handle follows the pointer. */
    public function testDrawingsFillAWideScreen(): void
    {
        $tools = new ChromeDevToolsDriver($this->chrome);
        foreach ([1100, 1920] as $width) {
            $tools->execute('Emulation.setDeviceMetricsOverride', ['width' => $width, 'height' => 1000, 'deviceScaleFactor' => 1, 'mobile' => false]);
            $sizes = fn (string $what): array => (array) $this->script("return [...document.querySelectorAll('svg.drawn $what')].map((e) => { const b = e.getBoundingClientRect(); return [Math.round(b.width), Math.round(b.height)]; })");
            $this->open('/beats/1/mix?channel=c2&insert=i1');
            $this->wait("document.querySelectorAll('pestle-eq .handle').length > 2");
            foreach ($sizes('.handle') as $size) {
                self::assertEqualsWithDelta([14, 14], $size, 3);
            }
            foreach ($sizes('text') as $size) {
                self::assertLessThan(19, ((array) $size)[1]);
            }
            self::assertGreaterThan(0.45 * $width, $this->script("return document.querySelector('pestle-eq svg').getBoundingClientRect().width"));
            $this->open('/beats/1/kit?pad=a1&group=shape');
            $this->wait("document.querySelector('pestle-handles .handle')");
            [$x, $y, $right] = array_map(static fn (mixed $v): float => is_numeric($v) ? (float) $v : 0.0, (array) $this->script("const svg = document.querySelector('pestle-handles svg').getBoundingClientRect(); const b = [...document.querySelectorAll('pestle-handles .handle')].at(-1).getBoundingClientRect(); return [b.x + b.width / 2, b.y + b.height / 2, svg.right]"));
            $to = $x + 0.2 * ($right - $x);
            $this->mouse('mousePressed', $x, $y);
            $this->mouse('mouseMoved', $to, $y);
            $at = $this->script("const b = [...document.querySelectorAll('pestle-handles .handle')].at(-1).getBoundingClientRect(); return b.x + b.width / 2");
            self::assertEqualsWithDelta($to, is_numeric($at) ? (float) $at : 0.0, 2.0);
            $this->mouse('mouseReleased', $to, $y);
            $this->wait("!document.querySelector('[data-undo]').disabled");
            $this->undo(1);
        }
        $this->assertNoErrors();
    }
}
