<?php

namespace Pestle\Tests\Browser;

use Facebook\WebDriver\WebDriverKeys;
use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavWriter;
use Pestle\Tests\Core\Sounds;

/** A kit is built from loose files, shaped, played with keys and a controller, rolled, kept on the shelf and carried from beat to beat. */
final class KitTest extends PageCase
{
    private const SET = "document.querySelector('[data-undo]').textContent";

    /** Another kit without what a lane plays: its hits are kept, told and put elsewhere; the lanes are drawn at once. */
    public function testHitsWithoutASoundAreToldAndPutElsewhere(): void
    {
        $this->open('/beats/1/pattern?section=s2');
        $this->wait("document.querySelector('pestle-lanes')");
        $drawn = "(() => { const l = document.querySelector('pestle-lanes'); const { length } = JSON.parse(l.dataset.lanes); return l.getBoundingClientRect().height === 20 + 33 * length && length > 0; })()";
        $lost = "[...document.querySelectorAll('.steps p.shared')]";
        $hits = self::whole($this->script("return (await rows('hits')).filter((h) => h[1] === 'a0').length"));
        // Chords under the drums: nothing of the same role lies there.
        self::assertTrue($this->script("return (await import('/build/js/changes.js')).change({ type: 'exchange-kit', part: 'part-1', from: 'part-2' })"));
        $this->wait("$lost.length > 2 && $drawn");
        self::assertTrue($this->script("return $lost.some((p) => p.textContent.startsWith('$hits hits lie on place'))"));
        $count = self::whole($this->script("return $lost.length"));
        $this->script("const s = ({$lost})[0].querySelector('select[name=to]'); s.value = s.options[1].value; s.dispatchEvent(new Event('change', { bubbles: true }))");
        $this->wait("$lost.length === $count - 1 && $drawn");
        $this->undo(2);
        $this->wait("$lost.length === 0 && $drawn");
        $this->assertNoErrors();
    }

    public function testAKitIsBuiltAndShaped(): void
    {
        $this->newKit();
        self::assertStringContainsString('answers by strength', $this->text('#notice'));
        $this->wait("document.querySelector('#pad-a0 .name')?.textContent === 'loud'");
        $this->clickText('Kit');
        $this->wait("document.querySelectorAll('.sound').length === 3");
        // The edge between the first two is moved by key; the strip lights where a strike falls.
        $this->script("document.querySelector('.edge-of').focus()");
        $this->keys(WebDriverKeys::ARROW_RIGHT);
        $this->wait("JSON.parse(document.querySelector('pestle-strip').dataset.tops)[0][1] === 44 && JSON.parse(document.querySelector('pestle-strip').dataset.tops)[1][0] === 45");
        $this->script("window.struck = []; document.addEventListener('pestle:struck', (e) => window.struck.push(e.detail))");
        $this->script("document.activeElement.blur(); const play = JSON.parse(document.querySelector('#pad-a0').dataset.play); const { fetchSound } = await import('/build/js/audio/context.js'); await Promise.all(play.strengths.map((v) => fetchSound(`\${play.url}?velocity=\${v}`)))");
        $this->keys('q');
        $this->wait("window.struck.length === 1 && document.querySelectorAll('.sound')[2].hasAttribute('data-lit')");
        $this->script("document.body.dispatchEvent(new KeyboardEvent('keydown', { code: 'KeyQ', key: 'Q', shiftKey: true, bubbles: true }))");
        $this->wait('window.struck.length === 2');
        self::assertSame([108, 58], $this->script('return window.struck.map((s) => s.velocity)'));
        // From the key to the audio clock in under 20 ms.
        self::assertTrue($this->script('return Math.min(...window.struck.map((s) => s.lateMs)) < 20'));
        // A handle of the envelope, a choice of the filter, a number of the movement.
        $this->script("document.querySelector('[aria-label=Shape] .handle').focus()");
        $this->keys(WebDriverKeys::ARROW_RIGHT);
        $this->wait(self::SET.".includes('Attack of loud') && !document.querySelector('[aria-label=Shape] .head span').textContent.includes('as it is')");
        // A way of it is bent by the handle in its middle.
        $this->script("(await import('/build/js/changes.js')).change({ type: 'set', under: 'kit/a0/amp', attackMs: 300 })");
        $this->wait("document.querySelector('.handle[aria-label=\"Bend of the attack\"]')");
        $this->script("document.querySelector('.handle[aria-label=\"Bend of the attack\"]').focus()");
        $this->keys(WebDriverKeys::ARROW_UP);
        $this->wait(self::SET.".includes('Bend of the attack') && Number(document.querySelector('.handle[aria-label=\"Bend of the attack\"]').getAttribute('aria-valuenow')) > 0.04");
        $this->click('[aria-label="What is set"] a:nth-child(4)');
        $this->wait("document.querySelector('select[name=shape]')");
        $this->set('select[name=shape]', 'low-pass');
        $this->wait("document.querySelector('[aria-label=Tone] .head span').textContent.includes('low-pass 12, 2 kHz')");
        $this->set('input[type=number][name=strengthCents]', '1200');
        $this->wait("document.querySelector('[aria-label=Tone] .strong')");
        $this->click('[aria-label="What is set"] a:nth-child(5)');
        $this->wait("document.querySelector('select[name=target]')");
        $this->set('select[name=target]', 'pan');
        $this->wait("document.querySelector('[aria-label=Movement] .head span').textContent.includes('pan 20 % at 5.0 Hz')");
        $this->assertNoErrors();
    }

    public function testPlayedByAControllerRolledAndRecorded(): void
    {
        $this->open('/beats/1/kit?section=s2');
        $this->script("window.struck = []; document.addEventListener('pestle:struck', (e) => window.struck.push(e.detail))");
        $this->click('[data-controllers]');
        $press = static fn (int $pad, float $height, string $type): string => "{ const p = document.querySelector('pestle-controller [data-note=\"".(36 + $pad)."\"]'); const b = p.getBoundingClientRect(); p.setPointerCapture = () => {}; p.hasPointerCapture = () => true; p.dispatchEvent(new PointerEvent('$type', { bubbles: true, pointerId: 7, clientX: b.x + 5, clientY: b.y + b.height * ".(1 - $height).' })) }';
        $this->script($press(1, 0.9, 'pointerdown').$press(1, 0.9, 'pointerup'));
        $this->wait("window.struck.length === 1 && window.struck[0].source === 'a1' && window.struck[0].velocity > 105");
        // Its pads are learned by striking: the sixth stands for the first place from now on.
        $this->clickText('Learn pads');
        $this->wait("document.querySelector('#pad-a0').hasAttribute('data-learning')");
        $this->script($press(5, 0.5, 'pointerdown').$press(5, 0.5, 'pointerup'));
        $this->wait("document.querySelector('#pad-a1').hasAttribute('data-learning')");
        $this->keys(WebDriverKeys::ESCAPE);
        $this->script($press(5, 0.3, 'pointerdown').$press(5, 0.3, 'pointerup'));
        $this->wait("window.struck.at(-1).source === 'a0' && window.struck.at(-1).velocity < 50");
        // A slider of it moves the level of the pad that is open.
        $this->script("document.querySelector('[data-controllers-slider]').click(); document.querySelector('main input[type=range][name=levelDb]').dispatchEvent(new PointerEvent('pointerdown', { bubbles: true, cancelable: true })); const f = document.querySelector('[data-number=\"20\"]'); f.value = 100; f.dispatchEvent(new Event('input', { bubbles: true })); f.value = 0; f.dispatchEvent(new Event('input', { bubbles: true }))");
        $this->wait("document.querySelector('main input[type=number][name=levelDb]').value === '-60.0'");
        $this->undo(1);
        // A roll on sixteenths is recorded where the steps are, with the strength of the pressure.
        $this->wait('(await player()).loop');
        $this->keys(' ');
        $this->wait('(await player()).ticks() > 100');
        $this->keys('n');
        self::assertSame('true', $this->element('[data-roll]')->getAttribute('aria-pressed'));
        $this->click('[data-record]');
        $this->wait('(await player()).ticks() > 300 && (await player()).ticks() < 900');
        $before = \count((array) $this->script("return window.struck.filter((s) => s.source === 'a10')"));
        $this->script($press(10, 0.5, 'pointerdown'));
        $this->wait('(await player()).ticks() > 1500');
        $this->script($press(10, 0.95, 'pointermove'));
        $this->wait('(await player()).ticks() > 2300');
        $this->script($press(10, 0.95, 'pointerup'));
        self::assertGreaterThan($before + 3, \count((array) $this->script("return window.struck.filter((s) => s.source === 'a10')")));
        $this->click('[data-record]');
        $this->wait(self::SET.".includes('Recorded')");
        $this->keys('n', ' ');
        $this->script("await (await import('/build/js/page.js')).goTo('/beats/1/pattern?section=s2&part=part-1')");
        $this->wait("(await rows('hits'))?.some((h) => h[1] === 'a10')");
        $rolled = "(await rows('hits')).filter((h) => h[1] === 'a10')";
        self::assertGreaterThan(3, $this->script("return $rolled.length"));
        self::assertSame(0, $this->script("return $rolled.filter((h) => h[0] % 240 !== 0).length"));
        self::assertTrue($this->script("const v = $rolled.map((h) => h[2]); return Math.max(...v) > 100 && Math.min(...v) < 80"));
        // A ladder lays one pad over all sixteen places: what is struck there is recorded as that pad at that pitch.
        $this->script("await (await import('/build/js/page.js')).goTo('/beats/1/kit?section=s2&pad=a9&ladder=semitones')");
        $this->wait("document.querySelectorAll('.pad[data-grade]').length === 16");
        $this->keys(' ');
        $this->wait('(await player()).ticks() > 100');
        $this->click('[data-record]');
        $this->wait('(await player()).ticks() > 300 && (await player()).ticks() < 1500');
        $this->keys('q');
        $this->wait("window.struck.at(-1).source === 'a9'");
        $this->click('[data-record]');
        $this->wait(self::SET.".includes('Recorded 1 hit')");
        $this->keys(' ');
        $this->script("await (await import('/build/js/page.js')).goTo('/beats/1/pattern?section=s2&part=part-1')");
        $this->wait("(await rows('hits'))?.some((h) => h[1] === 'a9' && h[7] === 'tuneCents=400')");
        $this->assertNoErrors();
    }

    public function testAKitIsKeptLoadedElsewhereAndCarriedOutAndIn(): void
    {
        $this->open('/beats/1/kit?side=shelf');
        $this->wait("document.querySelector('[data-shelf-save]')");
        $this->script("document.querySelector('[data-shelf-save] [name=name]').value = 'Night stall'; document.querySelector('[data-shelf-save] [name=tags]').value = 'warm, tin'; document.querySelector('[data-shelf-save] button').click()");
        $this->wait("document.querySelector('.shelved')?.textContent.includes('Night stall') && document.querySelector('main').textContent.includes('as saved')");
        $this->script("await (await import('/build/js/changes.js')).change({ type: 'set', 'kit/a0/levelDb': -2 })");
        $this->wait("document.querySelector('main').textContent.includes('changed') && [...document.querySelectorAll('button')].some((b) => b.textContent === 'Save as version 2' && !b.disabled)");
        $this->clickText('Save as version 2');
        $this->wait("document.querySelector('main').textContent.includes('version 2') && document.querySelector('main').textContent.includes('as saved')");
        // In another beat it is heard under what plays, then loaded.
        $this->newKit();
        $this->script("location.href = location.pathname.replace(/[a-z]+$/, 'kit') + '?side=shelf'");
        $this->wait("document.querySelector('[data-hear-kit]')");
        $this->click('[data-hear-kit]');
        $this->wait("document.querySelector('[data-hear-kit]').getAttribute('aria-pressed') === 'true'");
        $this->clickText('Load');
        $this->wait("document.querySelector('#pad-a0 .name')?.textContent === 'Mortar low' && document.querySelectorAll('.pad[data-pad]').length === 7");
        self::assertSame(-2, $this->script("return JSON.parse(document.querySelector('input[type=number][name=levelDb]').value)"));
        // Out as a zip of an SFZ file with its samples, and in again.
        $size = $this->script("const { patiently } = await import('/build/js/patient.js'); const zip = await (await patiently(document.querySelector('.shelved a[download]').href)).blob(); const d = new DataTransfer(); d.items.add(new File([zip], 'Night stall.zip')); const input = document.querySelector('[data-shelf-in]'); input.files = d.files; input.dispatchEvent(new Event('change', { bubbles: true })); return [zip.size, new TextDecoder().decode((await zip.arrayBuffer()).slice(0, 2))]");
        self::assertIsArray($size);
        self::assertSame('PK', $size[1]);
        $this->wait("document.querySelectorAll('.shelved').length === 2");
        self::assertStringContainsString('Night stall: 7 sounds on the shelf', $this->text('#notice'));
        $this->script("const d = new DataTransfer(); d.items.add(new File(['nothing'], 'Empty.zip')); const input = document.querySelector('[data-shelf-in]'); input.files = d.files; input.dispatchEvent(new Event('change', { bubbles: true }))");
        $this->wait("document.querySelector('#notice').textContent.includes('Empty.zip is no zip archive that can be read.')");
        $this->script("document.querySelector('[data-find]').value = 'tin'; document.querySelector('[data-find]').dispatchEvent(new Event('input', { bubbles: true }))");
        $this->wait("document.querySelectorAll('.shelved').length === 1");
        $this->click('.shelved [data-shelf-delete]');
        $this->wait("document.querySelector('.shelf').textContent.includes('Nothing has')");
        $this->clickText('Put it back');
        $this->wait("document.querySelectorAll('.shelved').length === 1");
        // Many loose sounds, one of them long, with the SFZ file that names them; what is too large is told the way.
        $choose = "const wav = (frames, seed) => { const b = new Int16Array(22 + frames); b.set(new Int16Array(new Uint8Array([82, 73, 70, 70, 0, 0, 0, 0, 87, 65, 86, 69, 102, 109, 116, 32, 16, 0, 0, 0, 1, 0, 1, 0, 68, 172, 0, 0, 136, 88, 1, 0, 2, 0, 16, 0, 100, 97, 116, 97, 0, 0, 0, 0]).buffer)); const v = new DataView(b.buffer); v.setUint32(4, 36 + 2 * frames, true); v.setUint32(40, 2 * frames, true); for (let i = 0; i < frames; i += 1) { b[22 + i] = 9000 * Math.sin(i * seed / 90); } return b; }; const d = new DataTransfer(); const put = (name, what) => d.items.add(new File([what], name)); const send = () => { const input = document.querySelector('[data-shelf-in]'); input.files = d.files; input.dispatchEvent(new Event('change', { bubbles: true })); };";
        $this->script($choose."let sfz = ''; for (let i = 0; i < 24; i += 1) { put('tin-' + i + '.wav', wav(i ? 900 : 1600000, i + 1)); sfz += '<region> sample=tin-' + i + '.wav key=' + (40 + i) + '\\n'; } put('Loose tins.sfz', sfz); send()");
        $this->wait("document.querySelector('#notice').textContent.includes('Loose tins: 24 sounds on the shelf.')");
        // More than one request may hold, in parts; and what is no kit.
        $this->script($choose."let sfz = ''; for (let i = 0; i < 3; i += 1) { put('drum-' + i + '.wav', wav(1600000 + i, i + 2)); sfz += '<region> sample=drum-' + i + '.wav key=' + (40 + i) + '\\n'; } put('Heavy.sfz', sfz); send()");
        $this->wait("document.querySelector('#notice').textContent.includes('Heavy: 3 sounds on the shelf.')");
        $this->script($choose."put('alone.wav', wav(900, 3)); send()");
        $this->wait("document.querySelector('#notice').textContent.includes('Choose a zip that holds an SFZ file')");
        $this->assertNoErrors(['422']);
    }

    /** A new beat with three sounds from loose files, dropped on its first pad. */
    private function newKit(): void
    {
        $this->open('/');
        $this->clickText('New beat');
        $this->wait("location.pathname.startsWith('/beats/') && document.querySelector('#pad-a0')");
        $folder = Sounds::folder();
        $files = [];
        foreach (['soft' => 0.1, 'middle' => 0.4, 'loud' => 0.9] as $name => $level) {
            WavWriter::copy(new MemorySource(Sounds::hit(9, 8000, $level), 44100), $files[] = $folder.'/'.$name.'.wav', SampleFormat::Int16);
        }
        $this->drop('#pad-a0', ...$files);
        $this->wait("document.querySelector('#pad-a0[data-pad]') && document.querySelector('#notice').textContent.includes('3 sounds')");
    }

    public function testRecordedNotesBecomeAnInstrument(): void
    {
        $this->open('/');
        $this->clickText('New beat');
        $this->wait("location.pathname.startsWith('/beats/') && document.querySelector('#pad-a0')");
        $folder = Sounds::folder();
        $note = static function (string $name, float $hz) use ($folder): string {
            $tone = Sounds::sine($hz, 30000);
            WavWriter::copy(new MemorySource(new StereoBlock($tone, $tone), 44100), $path = $folder.'/'.$name.'.wav', SampleFormat::Int16);

            return $path;
        };
        $this->drop('#pad-a0', $note('Jar A3', 220.0), $note('Jar E4', 329.63), $note('Jar A4', 440.0));
        $this->wait("[...document.querySelectorAll('#notice button')].some((b) => b.textContent === 'Play them on keys')");
        $this->clickText('Play them on keys');
        $this->wait("location.pathname.endsWith('/kit') && document.querySelectorAll('.sound').length === 3");
        $keys = "return [...document.querySelectorAll('.sound')].map((s) => s.getAttribute('aria-label').replace(/.*keys /, ''))";
        self::assertSame(['C-1 to C4', 'C#4 to F#4', 'G4 to G9'], $this->script($keys));
        // A note it has not got yet finds its place between the others; one without a name is heard.
        $this->drop('[data-drop-notes]', $note('Found', 261.63));
        $this->wait("document.querySelectorAll('.sound').length === 4");
        self::assertSame(['C-1 to A#3', 'B3 to D4', 'D#4 to F#4', 'G4 to G9'], $this->script($keys));
        self::assertStringContainsString('1 recorded note in the instrument', $this->text('#notice'));
        $this->assertNoErrors();
    }
}
