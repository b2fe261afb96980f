<?php

namespace Pestle\Tests\Browser;

use Facebook\WebDriver\Chrome\ChromeDevToolsDriver;
use Facebook\WebDriver\Chrome\ChromeDriver;
use Facebook\WebDriver\Exception\WebDriverException;
use Facebook\WebDriver\Remote\RemoteWebElement;
use Facebook\WebDriver\WebDriverBy;
use PHPUnit\Framework\TestCase;

/** A whole Pestle with the demo data and a browser that looks at it. */
abstract class PageCase extends TestCase
{
    /** Pads and notes may still be asked for that were taken out or undone just then, or for which newer sound was asked. */
    private const GONE = '~/beats/\d+/(?:keys|pads)/[^ ]* - Failed to load resource: the server responded with a status of (?:410|503)~';
    protected static Pestle $pestle;
    protected ChromeDriver $chrome;
    /** One browser for all journeys of a class: starting it takes longer than many of them. */
    private static ?ChromeDriver $browser = null;

    public static function setUpBeforeClass(): void
    {
        self::$pestle = new Pestle(true);
    }

    public static function tearDownAfterClass(): void
    {
        self::$browser?->quit();
        self::$browser = null;
        self::$pestle->stop();
    }

    protected function setUp(): void
    {
        $this->chrome = self::$browser ??= Chrome::start();
    }

    protected function tearDown(): void
    {
        if ($this->status()->isSuccess()) {
            Chrome::forget($this->chrome, self::$pestle->address);
        } else {
            $this->chrome->quit();
            self::$browser = null;
        }
    }

    protected function open(string $path): void
    {
        $this->chrome->get(self::$pestle->address.$path);
    }

    protected function element(string $selector): RemoteWebElement
    {
        return $this->chrome->findElement(WebDriverBy::cssSelector($selector));
    }

    protected function click(string $selector): void
    {
        $this->wait("document.querySelector('".addslashes($selector)."')");
        $this->script("document.querySelector('".addslashes($selector)."').click()");
    }

    protected function clickText(string $text): void
    {
        $this->wait("[...document.querySelectorAll('button, a')].some((e) => e.textContent.trim() === '$text')");
        $this->script("[...document.querySelectorAll('button, a')].find((e) => e.textContent.trim() === '$text').click()");
    }

    protected function text(string $selector): string
    {
        return $this->element($selector)->getText();
    }

    protected function set(string $selector, string $value): void
    {
        $this->wait("document.querySelector('$selector')");
        $this->script("const e = document.querySelector('$selector'); e.value = '$value'; e.dispatchEvent(new Event('change', {bubbles: true}))");
    }

    protected function keys(string ...$keys): void
    {
        foreach ($keys as $key) {
            $this->chrome->getKeyboard()->sendKeys($key);
        }
    }

    /** Takes back so many changes, one after the other. */
    protected function undo(int $times): void
    {
        for ($i = 0; $i < $times; ++$i) {
            $head = $this->script("return JSON.parse(document.querySelector('#app').dataset.page).head");
            self::assertIsInt($head);
            $this->click('[data-undo]');
            $this->wait("JSON.parse(document.querySelector('#app').dataset.page).head > $head");
        }
    }

    /** Takes back all that was ever changed, so that the next journey begins on the beat as it was made. */
    protected function undoAll(): void
    {
        while (!$this->script("return document.querySelector('[data-undo]').disabled")) {
            $this->undo(1);
        }
    }

    /** Clicks the cell of a lane and a step, as a hand would. */
    protected function clickStep(int $lane, int $step): void
    {
        $place = $this->script("const b = document.querySelector('pestle-lanes').getBoundingClientRect(); const steps = document.querySelector('pestle-lanes').dataset.ticks / 240; return [b.x + ($step + 0.5) * b.width / steps, b.y + 20 + ($lane + 0.5) * 33]");
        self::assertIsArray($place);
        [$x, $y] = array_map(static fn (mixed $v): float => is_numeric($v) ? (float) $v : 0.0, $place);
        $this->mouse('mousePressed', $x, $y);
        $this->mouse('mouseReleased', $x, $y);
    }

    protected function mouse(string $type, float $x, float $y, int $clicks = 1): void
    {
        $this->chrome->executeCustomCommand('/session/:sessionId/chromium/send_command', 'POST', [
            'cmd' => 'Input.dispatchMouseEvent',
            'params' => ['type' => $type, 'x' => $x, 'y' => $y, 'button' => 'left', 'buttons' => 'mouseReleased' === $type ? 0 : 1, 'clickCount' => $clicks],
        ]);
    }

    /** Files are dropped on what a selector names. */
    protected function drop(string $selector, string ...$files): void
    {
        $this->script("document.querySelector('#dropped')?.remove(); document.body.insertAdjacentHTML('beforeend', '<input type=file multiple id=dropped>'); document.querySelector('#dropped').addEventListener('change', (e) => document.querySelector('$selector').dispatchEvent(new DragEvent('drop', { bubbles: true, dataTransfer: (() => { const d = new DataTransfer(); [...e.target.files].forEach((f) => d.items.add(f)); return d; })() })))");
        $this->element('#dropped')->sendKeys(implode("\n", $files));
    }

    /** A folder is dropped as a hand does, on the middle of the page. */
    protected function dropFolder(string $folder): void
    {
        $tools = new ChromeDevToolsDriver($this->chrome);
        foreach (['dragEnter', 'dragOver', 'drop'] as $type) {
            $tools->execute('Input.dispatchDragEvent', ['type' => $type, 'x' => 500, 'y' => 400, 'data' => ['items' => [], 'files' => [$folder], 'dragOperationsMask' => 1]]);
        }
    }

    /** Runs a script that may await; player() is the page's own player. */
    protected function script(string $code, ?ChromeDriver $chrome = null): mixed
    {
        $result = ($chrome ?? $this->chrome)->executeAsyncScript(
            'const done = arguments[0]; const player = async () => (await import("/build/js/audio/player.js")).player; const rows = async (name) => { const element = document.querySelector(`[data-${name}-hash]`); return element && (await import("/build/js/held.js")).rowsOf(element, name); }; (async () => { '.$code.' })().then(done, (e) => done("failed: " + e))',
        );
        self::assertFalse(\is_string($result) && str_starts_with($result, 'failed: '), \is_string($result) ? $result.' in '.$code : '');

        return $result;
    }

    /** Ends as soon as it is so; how long it may take is for a machine at a quarter of its speed. */
    protected function wait(string $condition, int $seconds = 300): void
    {
        $this->waitIn($this->chrome, $condition, $seconds);
    }

    protected function waitIn(ChromeDriver $chrome, string $condition, int $seconds = 300): void
    {
        $until = microtime(true) + $seconds;
        // Looked at within the page, which costs both sides less than to ask again and again.
        $look = "for (const until = performance.now() + 4000; performance.now() < until; await new Promise((r) => setTimeout(r, 40))) { if ($condition) { return true; } } return false";
        while (microtime(true) < $until) {
            try {
                if (true === $this->script($look, $chrome)) {
                    self::addToAssertionCount(1);

                    return;
                }
            } catch (WebDriverException) {
                // Another page came meanwhile.
                usleep(20_000);
            }
        }
        $chrome->takeScreenshot(sys_get_temp_dir().'/pestle-failed.png');
        $state = $this->script("const p = await player(); const at = document.activeElement; return [location.pathname, document.querySelector('#notice')?.textContent, document.querySelector('#saved')?.textContent, document.querySelector('[data-undo]')?.textContent, at?.outerHTML.slice(0, 120), document.hidden, p.playing, p.busy, p.what, p.hearing, p.loop && { render: p.loop.render, section: p.loop.section, long: p.loop.long }]", $chrome);
        $said = json_encode([$state, $chrome->manage()->getLog('browser')]);
        self::fail("This did not come true in $seconds s: $condition (picture: ".sys_get_temp_dir()."/pestle-failed.png; page, notice, saved, undo, focus, player and log: $said)");
    }

    protected static function whole(mixed $value): int
    {
        self::assertIsInt($value);

        return $value;
    }

    /** @param list<string> $expected parts of messages that belong to the journey, or patterns between tildes */
    protected function assertNoErrors(array $expected = []): void
    {
        $expected[] = self::GONE;
        $errors = [];
        /** @var list<array{level: string, message: string}> $log */
        $log = $this->chrome->manage()->getLog('browser');
        foreach ($log as $entry) {
            $known = array_filter($expected, static fn (string $part): bool => str_starts_with($part, '~') ? 1 === preg_match($part, $entry['message']) : str_contains($entry['message'], $part));
            if ('SEVERE' === $entry['level'] && [] === $known) {
                $errors[] = $entry['message'];
            }
        }
        self::assertSame([], $errors);
    }
}
