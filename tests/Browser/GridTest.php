<?php

namespace Pestle\Tests\Browser;

use Facebook\WebDriver\WebDriverKeys;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\WavWriter;
use Pestle\Tests\Core\Sounds;

/** Setting a beat grid right by hand, saying things of single slices, and several files on one pad. */
final class GridTest extends ChopCase
{
    private const LINES = 'JSON.parse('.self::WAVE.'.dataset.beats)';

    public function testAWrongGridIsCorrected(): void
    {
        $this->newBeat();
        $this->element('#files')->sendKeys(self::loopFile(100.0));
        $this->wait("document.querySelector('.sample-title')?.value === 'lantern loop'");
        $this->clickText('Chop it');
        $this->wait(self::WAVE);
        $this->clickText('Grid');
        $this->wait(self::WAVE.'.dataset.mode === "grid"');
        $heard = $this->script('return '.self::LINES);
        self::assertIsArray($heard);
        self::assertCount(8, $heard);
        // Counted in threes, the lines stay and bars begin at others; taken back by undo.
        $this->set('#grid-meter', '3/4');
        $this->wait(self::WAVE.".dataset.bar === '3' && document.querySelector('main').textContent.includes('3 lines each, by hand')");
        self::assertSame($heard, $this->script('return '.self::LINES));
        $this->click('[data-undo]');
        $this->wait(self::WAVE.".dataset.bar === '4'");
        // Misread, tapped, counted: each step is one to take back.
        $this->clickText('×2');
        $this->wait(self::LINES.'.length === 16');
        $this->clickText('Take back a step');
        $this->wait(self::LINES.'.length === 8');
        // What was done last is what undo takes back, and redo does again, whatever it was.
        $key = static fn (string $shift): string => "document.body.dispatchEvent(new KeyboardEvent('keydown', { code: 'KeyZ', key: 'z', ctrlKey: true, shiftKey: $shift, bubbles: true }))";
        $this->clickText('×2');
        $this->wait(self::LINES.'.length === 16');
        self::assertStringContainsString('Tempo ×2', $this->text('[data-undo]'));
        $this->script($key('false'));
        $this->wait(self::LINES.'.length === 8');
        $this->script($key('true'));
        $this->wait(self::LINES.'.length === 16');
        // A change of the beat after it is undone first, and then it again.
        $place = "JSON.parse(document.querySelector('#app').dataset.page).place";
        $was = $this->script('return '.$place);
        self::assertIsInt($was);
        $this->set('#bpm', '111');
        $this->wait("$place !== $was");
        $this->script($key('false'));
        $this->wait("$place === $was && document.querySelector('[data-undo]').textContent.includes('Tempo ×2')");
        self::assertSame(16, $this->script('return '.self::LINES.'.length'));
        $this->script($key('false'));
        $this->wait(self::LINES.'.length === 8');
        $this->script("document.querySelector('#stretch-bars').value = 4");
        $this->click('[data-grid-bars]');
        $this->wait(self::LINES.'.length === 16');
        self::assertStringContainsString('200 BPM, by hand', $this->text('main'));
        $this->set('#grid-bpm', '99');
        $this->wait('Math.abs('.self::LINES.'[4] - 4 * 60 / 99 * 44100) < 2');
        // All lines in coarse and fine steps, then the first bar at the selection.
        $this->script("[...document.querySelectorAll('[data-grid]')].find((b) => b.ariaLabel === 'All lines +10 ms').click()");
        $this->wait(self::LINES.'[0] === 441');
        $this->set('[data-selection=start]', '0.1');
        $this->clickText('First bar begins here');
        $this->wait(self::LINES.'[0] === 4410');
        // One line by keys: chosen, held a little later; those after it go on at the tempo that leads up to it.
        $this->script(self::WAVE.'.focus()');
        foreach (range(0, 4) as $i) {
            $this->keys(WebDriverKeys::ARROW_RIGHT);
        }
        $this->wait("document.querySelector('#grid-line').textContent.startsWith('2.1 at')");
        $fourth = $this->script('return '.self::LINES.'[4]');
        self::assertIsInt($fourth);
        $this->keys('.');
        $this->wait(self::LINES.'[4] === '.($fourth + 44));
        $this->wait("document.querySelectorAll('.held .bar').length === 2");
        $this->set('.held select', '1');
        $this->wait("document.querySelector('.held select')?.value === '1'");
        $this->set('[data-grid-from]', '50');
        $this->wait(self::LINES.'.length === 6');
        // Dragged with the pointer: the line goes where it was left.
        $this->drag(self::LINES.'[4]', 30);
        $this->wait('Math.abs('.self::LINES.'[4] - '.($fourth + 44).') > 2000');
        $this->keys(WebDriverKeys::DELETE);
        $this->wait("document.querySelectorAll('.held .bar').length === 0");
        // It plays with clicks on its lines; and all of this visit can be had back at once.
        $this->keys('v');
        $this->wait("performance.getEntriesByType('resource').some((e) => e.name.includes('click='))");
        $this->clickText('As before this visit');
        $this->wait('JSON.stringify('.self::LINES.") === '".json_encode($heard)."'");
        $this->assertNoErrors();
    }

    public function testSlicesAreNamedTurnedRoundAndOverlap(): void
    {
        $this->open('/beats/1/chop');
        $this->wait("document.querySelector('#slice-name')");
        $this->script(self::WAVE.'.focus()');
        $this->keys(WebDriverKeys::ARROW_RIGHT);
        $this->wait("document.querySelector('#slice-number').textContent === '2'");
        $this->set('#slice-name', 'Late answer');
        $this->wait(self::UNDO.".includes('Name of slice 2')");
        $this->click('[data-slice-reverse]');
        $this->wait("document.querySelector('[data-slice-reverse]').getAttribute('aria-pressed') === 'true'");
        $this->set('#slice-end', '3.5');
        $this->wait('JSON.parse('.self::WAVE.'.dataset.ends)[1] === 154350');
        self::assertSame('3.500', $this->value('[data-selection=end]'));
        $this->set('#slice-gain', '-6');
        $this->wait(self::UNDO.".includes('Level of slice 2')");
        // Played here, it sounds as it will on its pad.
        $this->script(self::WAVE.'.focus()');
        $this->keys('v');
        $this->wait("performance.getEntriesByType('resource').some((e) => decodeURIComponent(e.name).includes('\"kind\":\"reverse\"') && e.name.includes('gain'))");
        $this->clickText('To pads');
        $this->wait("location.pathname.endsWith('/pattern') && [...document.querySelectorAll('.pad .name')].some((n) => n.textContent === 'Late answer')");
        $this->script("[...document.querySelectorAll('.pad')].find((p) => p.textContent.includes('Late answer')).click()");
        $this->wait("(await player()).loop?.section === JSON.parse(document.querySelector('#app').dataset.page).section");
        $this->undo(5);
        // Sounds of pads that were being fetched ahead are gone by then.
        $this->assertNoErrors();
    }

    public function testSeveralFilesOnAPadAreReadTheLikeliestWayAndInOthers(): void
    {
        $this->newBeat();
        $strengths = "return JSON.parse(document.querySelector('#pad-a2').dataset.play).strengths";
        $names = "[...document.querySelectorAll('.pad[data-pad] .name')].map((n) => n.textContent).join(' ')";
        $this->drop('#pad-a2', ...array_map(self::hitFile(...), ['soft' => 0.1, 'loud' => 0.9, 'middle' => 0.4], ['soft', 'loud', 'middle']));
        $this->wait("$names === 'loud'");
        self::assertStringContainsString('3 sounds: one sound struck softly and hard: answers by strength.', $this->text('#notice'));
        self::assertSame([43, 85, 127], $this->script($strengths));
        $this->clickText('On free pads');
        $this->wait("$names === 'soft loud middle'");
        $this->clickText('Stack on this pad');
        $this->wait("document.querySelector('#notice').textContent.includes('stack on this pad')");
        self::assertSame([127], $this->script($strengths));
        $this->clickText('Kit');
        $this->wait("document.querySelector('main').textContent.includes('all together')");
        $this->set('main select[name=answer]', 'strength');
        $this->wait("document.querySelectorAll('.edge-of').length === 2");
        self::assertSame([43, 85, 127], $this->script($strengths));
        // Sounds of a reading that was taken back may have been fetched ahead just then.
        $this->assertNoErrors();
    }

    /** Drags what lies at a frame of the recording, by so many pixels. */
    private function drag(string $frame, int $by): void
    {
        $this->script("const w = document.querySelector('pestle-wave'), c = w.shadowRoot.querySelector('canvas'), b = c.getBoundingClientRect();
            const x = b.left + $frame / Number(w.dataset.frames) * b.width, y = b.top + b.height / 2;
            c.setPointerCapture = () => {};
            for (const [type, at] of [['pointerdown', x], ['pointermove', x + $by / 2], ['pointermove', x + $by], ['pointerup', x + $by]]) {
                c.dispatchEvent(new PointerEvent(type, { clientX: at, clientY: y, button: 0, bubbles: true, pointerId: 1 }));
            }");
    }

    private static function hitFile(float $level, string $name): string
    {
        $path = Sounds::folder().'/'.$name.'.wav';
        WavWriter::copy(new \Pestle\Core\Audio\MemorySource(Sounds::hit(9, 8000, $level), 44100), $path, SampleFormat::Int16);

        return $path;
    }
}
