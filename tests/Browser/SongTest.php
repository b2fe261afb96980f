<?php

namespace Pestle\Tests\Browser;

use Facebook\WebDriver\WebDriverKeys;

/** What moves: drawn on the line of time by pointer and keyboard, written while it plays, copied and given to what it belongs to. */
final class SongTest extends PageCase
{
    private const LIVE = "document.querySelector('pestle-live').performance";

    /** A jam of three parts: chosen by the keys of the pads while it plays, taken back, at once, held; then it is the song. */
    public function testAJamBecomesTheSong(): void
    {
        $this->open('/beats/1/arrange?view=perform');
        $this->wait("document.querySelector('pestle-live')");
        $this->keys(' ');
        $this->wait(self::LIVE.'.playing && '.self::LIVE.'.now > 960');
        // W is the second pattern of the kit: it waits for the bar; once more takes it back; again, and it comes.
        $this->keys('w');
        $this->wait("document.querySelector('[data-waits]')?.textContent.includes('Stall, lifted')");
        usleep(600_000);
        $this->keys('w');
        $this->wait("!document.querySelector('[data-waits]') || document.querySelector('[data-plays]').textContent.includes('Stall, lifted')");
        usleep(600_000);
        $this->keys('w');
        $this->wait("document.querySelector('[data-plays]')?.textContent.includes('Stall, lifted')");
        self::assertSame(0, $this->script('return '.self::LIVE.'.state.choices.at(-1).tick % 3840'), 'It came with a bar.');
        // A section for all; the part whose patterns are chosen is another; a mute.
        $this->click('[data-live-what=mutes]');
        $this->wait("document.querySelector('[data-live-list=mutes] kbd')?.textContent === 'Q'");
        $this->keys('e');
        $this->wait("document.querySelectorAll('[data-live-list=mutes] [data-choose]')[2].textContent.includes('silent')");
        // Held: all the others are silent until it is let go.
        $this->script("document.querySelector('[data-live-held=only]').dispatchEvent(new PointerEvent('pointerdown', { bubbles: true, pointerId: 7 }))");
        $this->wait(self::LIVE.".state.rows[1].spans.at(-1).muted && document.querySelector('[data-acts]')");
        $this->script("dispatchEvent(new PointerEvent('pointerup', { pointerId: 7 }))");
        $this->wait('!'.self::LIVE.".state.rows[1].spans.at(-1).muted && !document.querySelector('[data-acts]')");
        // An effect is held by its key: it comes at once, and goes when it is let go.
        $this->script("document.dispatchEvent(new KeyboardEvent('keydown', { code: 'KeyZ', bubbles: true }))");
        $this->wait(self::LIVE.'.state.held[0].times.length === 1 && '.self::LIVE.'.state.held[0].times[0][1] === null');
        // A pointer that is let go meanwhile lets go of nothing that a key holds.
        $this->script("dispatchEvent(new PointerEvent('pointerup', { pointerId: 9 }))");
        self::assertTrue($this->script("return document.querySelector('[data-live-held=tone]').hasAttribute('data-acts')"));
        $this->script("document.dispatchEvent(new KeyboardEvent('keyup', { code: 'KeyZ', bubbles: true }))");
        $this->wait(self::LIVE.'.state.held[0].times[0][1] > '.self::LIVE.'.state.held[0].times[0][0]');
        // Over one part alone; let go is what was held, whatever is chosen since.
        $this->set('[data-live-over]', 'part-3');
        $this->script("document.activeElement.blur(); document.dispatchEvent(new KeyboardEvent('keydown', { code: 'Slash', bubbles: true }))");
        $back = self::LIVE.".state.held.find(({ name }) => name === 'backwards, Low jar')";
        $this->wait("$back?.times.length === 1 && ".self::LIVE.".now > $back.times[0][0]");
        $this->set('[data-live-over]', '');
        $this->script("document.activeElement.blur(); document.dispatchEvent(new KeyboardEvent('keyup', { code: 'Slash', bubbles: true }))");
        $this->wait("$back.times[0][1] > $back.times[0][0] && ".self::LIVE.".now > $back.times[0][1]");
        // Who loads the page again joins in.
        $version = $this->script('return '.self::LIVE.'.state.version');
        self::assertIsInt($version);
        $this->open('/beats/1/arrange?view=perform');
        $this->wait("document.querySelector('pestle-live') && ".self::LIVE.".state.version === $version && ".self::LIVE.'.now > 3840');
        $this->keys(' ');
        $this->wait(self::LIVE.'.playing');
        // The bars so far are caught as a sound on a free pad.
        $free = $this->script("return document.querySelectorAll('.pad[data-free]').length");
        self::assertIsInt($free);
        $this->click('[data-live=catch]');
        $this->wait("document.querySelectorAll('.pad[data-free]').length === $free - 1");
        $this->click('[data-live=song]');
        $this->wait("location.pathname.endsWith('/arrange') && !location.search.includes('perform') && document.querySelector('[data-undo]').textContent.includes('What was performed')");
        $this->wait("document.querySelector('#song-grid').dataset.song.split('\"e').length > 3");
        self::assertStringContainsString('Played', $this->text('#song-grid'));
        self::assertTrue($this->script("return (await (await fetch('/beats/1/pattern')).text()).includes(', backwards')"));
        $this->undoAll();
        $this->assertNoErrors();
    }

    public function testALevelIsDrawnOverTheSongBentCopiedAndGivenToASection(): void
    {
        $this->open('/beats/1/arrange?view=song');
        $this->wait("document.querySelectorAll('pestle-moves').length === 6");
        $this->clickText('+ what moves');
        $this->wait("document.querySelectorAll('.mover').length > 12");
        $this->script("const s = document.querySelector('.at-hand [name=search]'); s.value = 'chords level'; s.dispatchEvent(new Event('input', { bubbles: true })); s.dispatchEvent(new Event('change', { bubbles: true }))");
        $this->wait("document.querySelectorAll('.mover').length < 3 && document.querySelector('[data-let-move=\"mixer/c8/gainDb\"]')");
        $this->click('[data-let-move="mixer/c8/gainDb"]');
        $this->wait("JSON.parse(document.querySelector('pestle-moves[data-chosen]')?.dataset.lane ?? '{}').path === 'mixer/c8/gainDb'");
        self::assertCount(1, $this->points());
        // A straight way across half the song, from low to high.
        $this->click('[data-draw=line]');
        $this->drag(0.1, 0.9, 0.5, 0.1);
        $this->wait("JSON.parse(document.querySelector('pestle-moves[data-chosen]')?.dataset.lane ?? '{}').points.length === 3");
        [, [$from, $low], [$to, $high]] = $this->points();
        self::assertEqualsWithDelta([0.1, 0.5], [$from / (36 * 3840), $to / (36 * 3840)], 0.01);
        self::assertSame(0.0, fmod($from, 240.0), 'It lies on sixteenths, as snapping says.');
        self::assertLessThan(-45.0, $low);
        self::assertGreaterThan(0.0, $high);
        // By keyboard: the next point, up, finely, later; another one; away again; and one step back by its name.
        $this->click('[data-draw=points]');
        $this->script("const lane = document.querySelector('pestle-moves[data-chosen]'); lane.focus()");
        $this->keys(WebDriverKeys::ARROW_RIGHT, WebDriverKeys::ARROW_RIGHT, WebDriverKeys::ARROW_UP);
        $this->wait("JSON.parse(document.querySelector('pestle-moves[data-chosen]')?.dataset.lane ?? '{}').points[1][1] > $low");
        self::assertStringContainsString('Level of Chords moves', $this->text('[data-undo]'));
        $this->keys('n');
        $this->wait("JSON.parse(document.querySelector('pestle-moves[data-chosen]')?.dataset.lane ?? '{}').points.length === 4");
        $this->keys(WebDriverKeys::DELETE);
        $this->wait("JSON.parse(document.querySelector('pestle-moves[data-chosen]')?.dataset.lane ?? '{}').points.length === 3");
        // Its value is typed with its unit; it jumps from there.
        $this->keys(WebDriverKeys::ARROW_RIGHT);
        $this->wait("!document.querySelector('[data-point-value]').disabled");
        $this->set('[data-point-value]', '-7.5');
        $this->wait("JSON.parse(document.querySelector('pestle-moves[data-chosen]')?.dataset.lane ?? '{}').points[0][1] === -7.5");
        $this->set('[data-point-bend]', '1');
        $this->wait("JSON.parse(document.querySelector('pestle-moves[data-chosen]')?.dataset.lane ?? '{}').points[0][2] === 1");
        // By hand: many places of the pointer, few points.
        $this->click('[data-draw=hand]');
        $before = \count($this->points());
        $this->drag(0.6, 0.2, 0.9, 0.8, 40);
        $this->wait("document.querySelector('[data-undo]').textContent.includes('written')");
        self::assertLessThan($before + 12, \count($this->points()));
        // It is what is heard: the song is another one from where it moves.
        $this->script("const to = document.querySelector('[data-carry][aria-label=\"Copy to another parameter\"]'); to.value = [...to.options].find((o) => o.textContent === 'Hands · level').value; to.dispatchEvent(new Event('change', { bubbles: true }))");
        $this->wait("document.querySelectorAll('pestle-moves').length === 8 && JSON.parse(document.querySelector('pestle-moves[data-chosen]')?.dataset.lane ?? '{}').path === 'mixer/c5/gainDb'");
        $this->script("const to = document.querySelector('[data-carry][aria-label=\"Where it belongs\"]'); to.selectedIndex = 1; to.dispatchEvent(new Event('change', { bubbles: true }))");
        $this->wait("JSON.parse(document.querySelector('pestle-moves[data-chosen]')?.dataset.lane ?? '{}').scope === 'section'");
        self::assertStringContainsString('in First', $this->text('.move-head[aria-current]'));
        // A shape to begin with, and all of it back.
        $this->set('[data-shape]', 'stair');
        $this->wait("document.querySelector('[data-undo]').textContent.includes('stair')");
        self::assertGreaterThan(10, \count($this->points()));
        $this->undo(3);
        $this->wait("document.querySelectorAll('pestle-moves').length === 7");
        $this->open('/beats/1/arrange?view=song&moves=song//mixer/c8/gainDb');
        $this->click('.away');
        $this->wait("document.querySelectorAll('pestle-moves').length === 6");
        $this->assertNoErrors();
    }

    public function testWhatIsMovedWhileItPlaysIsWritten(): void
    {
        $this->open('/beats/1/mix?channel=c8');
        $this->click('[data-write-moves]');
        $this->wait("document.querySelector('[data-write-moves]').getAttribute('aria-pressed') === 'true'");
        $this->script("document.querySelector('input[name=play-what][value=song]').click(); return 1");
        $this->keys(' ');
        $this->wait('(await player()).playing && (await player()).position() > 44100');
        // A fader in hand: pressed, moved on, and let go.
        $this->script(<<<'JS'
            const fader = document.querySelector('[data-channel=c8] .fader-range');
            // As evenly as a hand does it, however late this is come to.
            for (const begun = performance.now(), past = () => (performance.now() - begun) / 1200; past() < 1;) {
                fader.value = -2 - 24 * past();
                fader.dispatchEvent(new Event('input', { bubbles: true }));
                await new Promise((r) => setTimeout(r, 20));
            }
            fader.value = -26;
            fader.dispatchEvent(new Event('input', { bubbles: true }));
            fader.dispatchEvent(new Event('change', { bubbles: true }));
            JS);
        $this->wait("document.querySelector('[data-undo]').textContent.includes('Level of Chords written')");
        self::assertTrue($this->script("return document.querySelector('[data-channel=c8] .fader').hasAttribute('data-moves')"), 'The control says that it moves.');
        $this->keys(' ');
        $this->click('[data-write-moves]');
        $this->open('/beats/1/arrange?view=song&moves=song//mixer/c8/gainDb');
        $this->wait("JSON.parse(document.querySelector('pestle-moves[data-chosen]')?.dataset.lane ?? '{}').path === 'mixer/c8/gainDb'");
        // A click on the ruler plays from that bar: here the thirteenth of 36.
        $this->script("const r = document.querySelector('.time-ruler').getBoundingClientRect(); document.querySelector('.time-ruler').dispatchEvent(new MouseEvent('click', { bubbles: true, clientX: r.x + r.width * 12.4 / 36, clientY: r.y + 5 }))");
        $this->wait("(await player()).playing && (await player()).what === 'song' && (await player()).position() > 12 * 4 * 60 / 86 * 44100 && (await player()).position() < 14 * 4 * 60 / 86 * 44100 && !document.querySelector('#time-line').hidden");
        self::assertMatchesRegularExpression('/^1[34]\.\d\.\d$/', $this->text('#position'));
        self::assertMatchesRegularExpression('/^Lifted, 1 of 2, bar [12] of 4 · Break in [78] bars$/', $this->text('#song-now'));
        $this->keys(' ');
        $points = $this->points();
        self::assertLessThan(30, \count($points), 'Of all places it was moved through, those that are needed stay.');
        self::assertLessThan(-20.0, min([0.0, ...array_column($points, 1)]));
        self::assertSame(-2.3, round($points[0][1], 1), 'Before it was touched it is as it was set.');
        self::assertSame(-2.3, round($points[\count($points) - 1][1], 1), 'After it was let go as well.');
        $this->undo(1);
        $this->wait("document.querySelectorAll('pestle-moves').length === 6");
        $this->assertNoErrors();
    }

    /** A band that is dragged while the section loops: where it lies and how much it lifts are two things that move, in the section. */
    public function testABandThatIsDraggedIsWrittenIntoTheSection(): void
    {
        $this->open('/beats/1/mix?channel=c2&insert=i1&section=s2');
        $this->click('[data-write-moves]');
        $this->keys(' ');
        $this->wait('(await player()).playing && !(await player()).busy');
        $this->script("document.querySelectorAll('pestle-eq .handle')[3].scrollIntoView({ block: 'center' })");
        /** @var array{float, float} $at */
        $at = array_map(static fn (mixed $v): float => is_numeric($v) ? (float) $v : 0.0, (array) $this->script("const b = document.querySelectorAll('pestle-eq .handle')[3].getBoundingClientRect(); return [b.x + b.width / 2, b.y + b.height / 2]"));
        $this->mouse('mousePressed', ...$at);
        foreach (range(1, 12) as $i) {
            $this->mouse('mouseMoved', $at[0] + 4 * $i, $at[1] - 2 * $i);
        }
        $this->mouse('mouseReleased', $at[0] + 48, $at[1] - 24);
        $moving = "JSON.parse(document.querySelector('#app').dataset.page).moving";
        $this->wait("$moving.includes('mixer/c2/inserts/i1/bands/4/hz') && $moving.includes('mixer/c2/inserts/i1/bands/4/gainDb')");
        $this->keys(' ');
        $this->click('[data-write-moves]');
        $this->open('/beats/1/arrange?view=song&moves='.rawurlencode('section/s2/mixer/c2/inserts/i1/bands/4/gainDb'));
        $this->wait("JSON.parse(document.querySelector('pestle-moves[data-chosen]')?.dataset.lane ?? '{}').scope === 'section'");
        self::assertGreaterThan(2, \count($this->points()));
        $this->undo(2);
        $this->wait("document.querySelectorAll('pestle-moves').length === 6");
        $this->assertNoErrors();
    }

    /** A control's own menu lets it move; what cannot says why, and nothing is changed. */
    public function testAControlLetsItMoveByItsMenu(): void
    {
        $this->open('/beats/1/mix?channel=c5');
        $menu = static fn (string $control): string => "document.querySelector('$control').dispatchEvent(new MouseEvent('contextmenu', { bubbles: true, cancelable: true }))";
        $this->script($menu('[data-channel=c5] .fader-range'));
        $this->wait("document.querySelector('#notice').textContent.includes('Let it move')");
        $this->clickText('in this section');
        $this->wait("JSON.parse(document.querySelector('pestle-moves[data-chosen]')?.dataset.lane ?? '{}').path === 'mixer/c5/gainDb'");
        self::assertStringContainsString('in First', $this->text('.move-head[aria-current]'));
        self::assertCount(1, $this->points());
        $this->undo(1);
        $this->open('/beats/1/mix?channel=c9&insert=i2');
        $this->wait("document.querySelector('input[type=range][name=aheadMs]')");
        $this->script($menu('input[type=range][name=aheadMs]'));
        $this->wait("document.querySelector('#notice').textContent.includes('Let it move')");
        $this->clickText('over the song');
        $this->wait("document.querySelector('#notice').textContent.includes('Looks ahead cannot move: it is how long the sound waits.')");
        $this->assertNoErrors(['422']);
    }

    /** A controller's bend wheel moves a pad while its section loops: written there, smoothed, copied to another pad, and put onto whole decibels. */
    public function testMovesOfAControllerAreWrittenSmoothedCopiedAndSnapped(): void
    {
        $this->open('/beats/1/arrange?view=song');
        $this->click('[data-write-moves]');
        $this->script("await (await import('/build/js/page.js')).goTo('/beats/1/kit?section=s2&pad=a1')");
        $this->click('[data-controllers]');
        $bend = static fn (int $value, string $type = 'input'): string => "{ const f = document.querySelector('[data-bend]'); f.value = $value; f.dispatchEvent(new Event('$type', { bubbles: true })); }";
        $this->script("document.querySelector('[data-controllers-slider]').click(); document.querySelector('main input[type=range][name=levelDb]').dispatchEvent(new PointerEvent('pointerdown', { bubbles: true, cancelable: true }));".$bend(9000));
        $this->wait("document.querySelector('#notice').textContent.includes('The bend wheel of')");
        $this->keys(' ');
        $this->wait('(await player()).playing && (await player()).ticks() > 200');
        foreach ([9000, 7000, 5000, 12000, 14000] as $value) {
            $this->script($bend($value).' await new Promise((d) => setTimeout(d, 120))');
        }
        $this->script($bend(16000, 'change'));
        $moving = "JSON.parse(document.querySelector('#app').dataset.page).moving";
        $this->wait("$moving.includes('kit/a1/levelDb')");
        self::assertStringContainsString('Level of Tin snare written', $this->text('[data-undo]'));
        $this->wait("document.querySelector('main [data-slider]:has([name=levelDb])').hasAttribute('data-moves')");
        $this->keys(' ');
        $this->script("await (await import('/build/js/page.js')).goTo('/beats/1/arrange?view=song&moves=' + encodeURIComponent('section/s2/kit/a1/levelDb'))");
        $this->wait("JSON.parse(document.querySelector('pestle-moves[data-chosen]')?.dataset.lane ?? '{}').path === 'kit/a1/levelDb'");
        $this->click('[data-write-moves]');
        $written = $this->points();
        self::assertGreaterThan(3, \count($written));
        self::assertGreaterThan(12.0, max([0.0, ...array_column($written, 1)]) - min([0.0, ...array_column($written, 1)]));
        $this->set('[aria-label="Smoothed over, in milliseconds"]', '80');
        $this->wait("document.querySelector('[aria-label=\"Smoothed over, in milliseconds\"]').value === '80'");
        $this->script("const s = [...document.querySelectorAll('[data-carry]')].find((c) => c.getAttribute('aria-label').startsWith('Copy')); s.value = [...s.options].find((o) => o.textContent === 'Hands · level' && JSON.parse(o.value || '{}').toPath?.startsWith('kit/')).value; s.dispatchEvent(new Event('change', { bubbles: true }))");
        $this->wait("JSON.parse(document.querySelector('pestle-moves[data-chosen]')?.dataset.lane ?? '{}').path === 'kit/a8/levelDb'");
        self::assertSame($written, $this->points());
        self::assertSame('80', $this->script("return document.querySelector('[aria-label=\"Smoothed over, in milliseconds\"]').value"));
        $this->set('[data-snap=value]', 'unit');
        $this->script("document.querySelector('pestle-moves[data-chosen]').focus()");
        $this->keys(WebDriverKeys::ARROW_RIGHT, WebDriverKeys::ARROW_RIGHT, WebDriverKeys::ARROW_UP);
        $this->wait("JSON.parse(document.querySelector('pestle-moves[data-chosen]')?.dataset.lane ?? '{}').points.some((p, i) => p[1] !== ".json_encode(array_column($written, 1)).'[i] && Number.isInteger(p[1]))');
        $this->set('[data-snap=value]', '0');
        $this->undoAll();
        $this->wait("!$moving.includes('kit/a1/levelDb')");
        $this->script("localStorage.removeItem('pestle-controllers')");
        $this->assertNoErrors();
    }

    /** @return list<array{float, float, float}> */
    private function points(): array
    {
        /** @var list<array{float, float, float}> $points */
        $points = $this->script("return JSON.parse(document.querySelector('pestle-moves[data-chosen]')?.dataset.lane ?? '{}').points");

        return array_map(static fn (array $p): array => array_map(floatval(...), $p), $points);
    }

    /** From one place of the chosen lane to another, in shares of its width and height. */
    private function drag(float $fromX, float $fromY, float $toX, float $toY, int $steps = 4): void
    {
        /** @var array{float, float, float, float} $box */
        $box = array_map(static fn (mixed $v): float => is_numeric($v) ? (float) $v : 0.0, (array) $this->script("const b = document.querySelector('pestle-moves[data-chosen]').getBoundingClientRect(); return [b.x, b.y, b.width, b.height]"));
        $at = static fn (float $x, float $y): array => [$box[0] + $x * $box[2], $box[1] + $y * $box[3]];
        $this->mouse('mousePressed', ...$at($fromX, $fromY));
        for ($i = 1; $i <= $steps; ++$i) {
            $this->mouse('mouseMoved', ...$at($fromX + ($toX - $fromX) * $i / $steps, $fromY + ($toY - $fromY) * $i / $steps));
        }
        $this->mouse('mouseReleased', ...$at($toX, $toY));
    }
}
