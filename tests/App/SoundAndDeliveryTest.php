<?php

namespace Pestle\Tests\App;

use Pestle\App\Storage\Beats;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Mix\Gain;
use Pestle\Tests\Core\Render\RandomBeats;
use Pestle\Tests\Core\Sounds;
use Symfony\Component\HttpFoundation\Response;

/** What pages hear and what users take away, over HTTP. */
final class SoundAndDeliveryTest extends AppCase
{
    private static int $beat;
    private static string $hash;

    public static function setUpBeforeClass(): void
    {
        parent::setUpBeforeClass();
        $path = Sounds::folder().'/a.wav';
        $writer = new WavWriter($path, 44100, SampleFormat::Int24);
        $writer->write(Sounds::hit(3, 22050));
        $writer->close();
        $state = self::upload('Knock.wav', (string) file_get_contents($path));
        self::assertIsArray($state['sample']);
        self::$hash = self::text($state['sample']['hash']);
        $fill = ['type' => 'fill-pad', 'sample' => self::$hash, 'start' => 0, 'end' => 22050];
        $beat = RandomBeats::changed(Beat::empty('Heard'), [
            ['type' => 'set-tempo', 'bpm' => 120], ['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 1],
            [...$fill, 'pad' => 'a0', 'name' => 'Knock', 'role' => 'kick'], [...$fill, 'pad' => 'a1', 'name' => 'Knock', 'role' => 'snare'],
            ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 120], [960, 'a1', 100]]],
        ]);
        self::$beat = self::service(Beats::class)->add($beat)->id;
    }

    public function testALoopIsHeardAndAPreviewIsNotStored(): void
    {
        [$answer, $sound] = self::sound(self::ask('POST', '/beats/'.self::$beat.'/loop', ['what' => 'p1']));
        self::assertSame([88200, 44100, 3840], [$answer['frames'], $answer['rate'], $answer['ticks']]);
        self::assertSame(8 * 88200, \strlen($sound));
        self::assertIsArray($answer['meters']);
        self::assertIsArray($answer['meters']['channels']);
        self::assertSame(['c1', 'c2', 'drums'], array_keys($answer['meters']['channels']));

        $quieter = ['type' => 'set', 'under' => 'mixer/c1', 'gainDb' => -60];
        [$preview] = self::sound(self::ask('POST', '/beats/'.self::$beat.'/loop', ['what' => 'p1', 'preview' => $quieter]));
        self::assertNotSame($answer['render'], $preview['render']);
        [$again] = self::sound(self::ask('POST', '/beats/'.self::$beat.'/loop', ['what' => 'p1']));
        self::assertSame($answer['render'], $again['render']);
        self::assertSame(422, self::ask('POST', '/beats/'.self::$beat.'/loop', ['what' => 'p1', 'preview' => ['type' => 'set-tempo', 'bpm' => 1]])->getStatusCode());
    }

    public function testThePartsAreHeardAlone(): void
    {
        [$pad, $sound] = self::sound(self::ask('GET', '/beats/'.self::$beat.'/pads/a0/0123456789abcdef'));
        // Its half second, and a segment in which nothing rings on.
        self::assertSame(7 * 4096, $pad['frames']);
        self::assertNotSame(str_repeat("\0", \strlen($sound)), $sound);
        [$click] = self::sound(self::ask('GET', '/click/wood'));
        self::assertSame(2 * 2646, $click['frames']);
        [$sample] = self::sound(self::ask('GET', '/samples/'.self::$hash.'/sound?from=2050'));
        self::assertSame(20000, $sample['frames']);
        [$song] = self::sound(self::ask('GET', '/beats/'.self::$beat.'/piece'));
        self::assertSame([0, 88200], [$song['start'], $song['music']]);
        [$round] = self::sound(self::ask('GET', '/beats/'.self::$beat.'/piece?what=p1&from=30&count=2'));
        self::assertSame([88200 + 8 * 4096, 2 * 4096, 32], [$round['start'], $round['frames'], $round['next']]);
        // While a pattern is being deleted, a page may still ask for it.
        self::assertSame([['gone' => true], ''], self::sound(self::ask('POST', '/beats/'.self::$beat.'/loop', ['what' => 'p9'])));
        self::assertSame([['gone' => true], ''], self::sound(self::ask('GET', '/beats/'.self::$beat.'/piece?what=p9')));
    }

    public function testADeliveryHoldsMixAndStemsByName(): void
    {
        $ordered = self::json(self::ask('POST', '/beats/'.self::$beat.'/deliveries', ['what' => 'beat', 'format' => '16', 'stems' => 'pad', 'dither' => true]));
        self::assertSame('waiting', $ordered['state']);
        // What is changed after the order is not in it.
        self::change(self::$beat, 1, ['type' => 'set-tempo', 'bpm' => 60]);
        self::work();
        self::assertIsInt($ordered['id']);
        $done = self::json(self::ask('GET', '/deliveries/'.$ordered['id']));
        self::assertSame('done', $done['state']);
        self::assertStringContainsString('The 2 stems add up to the mix within', self::text($done['message']));
        self::assertIsArray($done['files']);
        self::assertSame(['Heard - mix - 120 BPM.wav', '01 Knock - 120 BPM.wav', '02 Knock 2 - 120 BPM.wav'], array_column($done['files'], 'name'));
        $file = self::ask('GET', '/deliveries/'.$ordered['id'].'/file');
        self::assertSame(200, $file->getStatusCode());
        self::assertStringContainsString('filename="Heard - 120 BPM.zip"', (string) $file->headers->get('Content-Disposition'));
        $zip = new \ZipArchive();
        self::assertTrue($zip->open(self::$data.'/deliveries/'.$ordered['id'].'/Heard - 120 BPM.zip'));
        self::assertTrue($zip->extractTo($taken = Sounds::folder()));
        $mix = SoundFile::open($taken.'/Heard - mix - 120 BPM.wav');
        self::assertSame(SampleFormat::Int16, $mix->format);
        self::assertGreaterThan(88200, $mix->frames());
        self::change(self::$beat, 2, ['type' => 'set-tempo', 'bpm' => 120]);
    }

    /** At another rate and as loud as asked for; both are told, and delivered again it is the same. */
    public function testADeliveryHasTheRateAndTheLevelAskedFor(): void
    {
        $ordered = self::json(self::ask('POST', '/beats/'.self::$beat.'/deliveries', ['what' => 'p1', 'format' => '16', 'dither' => 'shaped', 'stems' => 'pad', 'rate' => '48000', 'level' => 'loudness', 'lufs' => '-23.5']));
        self::work();
        self::assertIsInt($ordered['id']);
        $done = self::json(self::ask('GET', '/deliveries/'.$ordered['id']));
        self::assertSame('done', $done['state'], self::text($done['message']));
        self::assertMatchesRegularExpression('/^Lowered by [\d.]+ dB to -23\.5 LUFS\. The 2 stems add up to the mix within/', self::text($done['message']));
        $row = (string) self::ask('GET', '/deliveries/'.$ordered['id'], null, ['HX-Request' => 'true'])->getContent();
        self::assertStringContainsString('16 bit, 48 kHz', $row);
        self::ask('GET', '/deliveries/'.$ordered['id'].'/file');
        $archive = glob(self::$data.'/deliveries/'.$ordered['id'].'/*.zip') ?: self::fail('no archive');
        $zip = new \ZipArchive();
        $zip->open($archive[0]);
        $zip->extractTo($taken = Sounds::folder());
        foreach (glob($taken.'/*.wav') ?: [] as $path) {
            self::assertSame(48000, SoundFile::open($path)->sampleRate(), $path);
        }
        self::assertSame(422, self::ask('POST', '/beats/'.self::$beat.'/deliveries', ['what' => 'p1', 'format' => '16', 'stems' => 'pad', 'rate' => '12345'])->getStatusCode());
    }

    /** Each file is taken by itself, whole or in ranges, as a player asks for it; it is made again as it was, and says what changed since. */
    public function testADeliveryIsHeardAgainMadeAgainAndCompared(): void
    {
        $id = self::service(Beats::class)->add(self::called('Then'))->id;
        $order = ['what' => 'p1', 'format' => '24', 'stems' => 'pad', 'loop' => 'cut', 'also' => 'flac,ogg'];
        $first = self::json(self::ask('POST', "/beats/$id/deliveries", $order))['id'];
        self::work();
        self::change($id, 1, ['type' => 'set-tempo', 'bpm' => 90]);
        self::change($id, 2, ['type' => 'set', 'mixer/master/gainDb' => -6]);
        self::assertIsInt($first);
        /** @var list<array{name: string, bytes: int}> $files */
        $files = self::json(self::ask('GET', "/deliveries/$first"))['files'];
        self::assertSame(['wav', 'wav', 'wav', 'flac', 'flac', 'flac', 'ogg'], array_map(static fn (array $f): string => pathinfo($f['name'], \PATHINFO_EXTENSION), $files));
        $zip = new \ZipArchive();
        $zip->open((glob(self::$data."/deliveries/$first/*.zip") ?: [''])[0]);
        foreach ($files as $i => $file) {
            $whole = $zip->getFromName($file['name']);
            $answer = self::ask('GET', "/deliveries/$first/files/$i");
            self::assertSame([200, $whole], [$answer->getStatusCode(), self::sent($answer)]);
            self::assertStringContainsString($file['name'], (string) $answer->headers->get('Content-Disposition'));
            foreach (['bytes=10-99' => [10, 90], 'bytes=100-' => [100, 524_288], 'bytes=-7' => [-7, null]] as $range => [$at, $length]) {
                $answer = self::ask('GET', "/deliveries/$first/files/$i", null, ['Range' => $range]);
                self::assertSame([206, substr((string) $whole, $at, $length)], [$answer->getStatusCode(), self::sent($answer)]);
            }
        }
        self::assertSame(404, self::ask('GET', "/deliveries/$first/files/9")->getStatusCode());
        $since = (string) self::ask('GET', "/deliveries/$first/since")->getContent();
        self::assertStringContainsString('as it was begun', $since);
        self::assertMatchesRegularExpression('/Since then: Tempo[^,]*, [^.]*Master/i', $since);

        $again = self::json(self::ask('POST', "/deliveries/$first/again"))['id'];
        self::work();
        $now = self::json(self::ask('POST', "/beats/$id/deliveries", $order))['id'];
        self::work();
        self::assertIsInt($again);
        self::assertIsInt($now);
        $bytes = static fn (int $delivery): string => self::sent(self::ask('GET', "/deliveries/$delivery/files/1"));
        self::assertSame(self::data($bytes($first)), self::data($bytes($again)));
        self::assertNotSame(self::data($bytes($first)), self::data($bytes($now)));
        // Its own master made it softer, and what was taken back is told as well.
        self::assertStringContainsString('LU softer', (string) self::ask('GET', "/deliveries/$now/since")->getContent());
        self::assertSame(200, self::ask('POST', "/beats/$id/undo", [], ['X-Pestle-Head' => '3'])->getStatusCode());
        self::assertMatchesRegularExpression('/Taken back: [^.]*Master/i', (string) self::ask('GET', "/deliveries/$now/since")->getContent());
    }

    private static function called(string $name): Beat
    {
        return self::service(Beats::class)->content(self::service(Beats::class)->find(self::$beat) ?? self::fail('No beat.'), 1)->with(['name' => $name]);
    }

    private static function sent(Response $response): string
    {
        ob_start();
        $response->sendContent();

        return (string) ob_get_clean();
    }

    /** Of a WAV what is sound: the rest says when it was made. */
    private static function data(string $wav): string
    {
        file_put_contents($path = Sounds::folder().'/taken.wav', $wav);
        $sound = Sounds::whole(SoundFile::open($path));

        return hash('sha256', (string) json_encode([$sound->left, $sound->right]));
    }

    public function testSeveralAreDeliveredAtOnce(): void
    {
        $id = self::service(Beats::class)->add(RandomBeats::changed(self::called('Several'), [['type' => 'add-section', 'id' => 's2', 'name' => 'Bridge', 'copyOf' => 's1'], ['type' => 'add-section', 'id' => 's3', 'name' => 'Empty']]))->id;
        /** @var list<int> $all */
        $all = self::json(self::ask('POST', "/beats/$id/deliveries", ['what' => 'sections', 'format' => '16', 'stems' => 'none']))['all'];
        self::assertCount(2, $all, 'What is empty has nothing to deliver.');
        self::work();
        foreach ($all as $one) {
            self::assertSame('done', self::json(self::ask('GET', "/deliveries/$one"))['state']);
        }
        self::assertSame(2, substr_count((string) self::ask('POST', "/beats/$id/deliveries", ['what' => 'sections', 'format' => '16', 'stems' => 'none'], ['HX-Request' => 'true'])->getContent(), 'class="delivery"'));
        self::assertSame(422, self::ask('POST', "/beats/$id/deliveries", ['what' => 'bars', 'fromBar' => '1', 'toBar' => '900', 'format' => '16', 'stems' => 'none'])->getStatusCode());
        // The notes of one part alone.
        $midi = static fn (string $part): string => (string) self::ask('GET', "/beats/$id/midi/p1.mid?part=$part")->getContent();
        self::assertStringStartsWith('MThd', $midi('part-1'));
        self::assertSame(422, self::ask('GET', "/beats/$id/midi/p1.mid?part=part-9")->getStatusCode());
    }

    public function testALeadSheetIsTakenAway(): void
    {
        $answer = self::ask('GET', '/beats/'.self::$beat.'/lead-sheet.txt');
        self::assertSame([200, 'text/plain; charset=utf-8'], [$answer->getStatusCode(), $answer->headers->get('Content-Type')]);
        self::assertStringStartsWith("Heard\n120 BPM, 4/4", (string) $answer->getContent());
        self::assertStringContainsString('filename="Heard - lead sheet.txt"', (string) $answer->headers->get('Content-Disposition'));
    }

    /** FLAC holds every file to the bit; MP3 and Ogg the mix alone; all say in their tags what they are and how they are played. */
    public function testADeliveryComesPackedWithTags(): void
    {
        $order = ['what' => 'p1', 'loop' => '1', 'format' => '24', 'stems' => 'pad'];
        self::assertSame(422, self::ask('POST', '/beats/'.self::$beat.'/deliveries', [...$order, 'format' => '32f', 'also' => 'flac'])->getStatusCode());
        self::assertSame(422, self::ask('POST', '/beats/'.self::$beat.'/deliveries', [...$order, 'also' => 'wax'])->getStatusCode());
        foreach (['flac' => 3, 'mp3' => 1, 'ogg' => 1] as $as => $count) {
            $ordered = self::json(self::ask('POST', '/beats/'.self::$beat.'/deliveries', [...$order, 'also' => $as]));
            self::work();
            self::assertIsInt($ordered['id']);
            $done = self::json(self::ask('GET', '/deliveries/'.$ordered['id']));
            self::assertSame('done', $done['state'], self::text($done['message']));
            self::assertStringContainsString('add up to the mix', self::text($done['message']));
            $zip = new \ZipArchive();
            self::assertTrue($zip->open((glob(self::$data.'/deliveries/'.$ordered['id'].'/*.zip') ?: [''])[0]));
            $zip->extractTo($taken = Sounds::folder());
            $packed = glob($taken.'/*.'.$as) ?: [];
            self::assertCount($count, $packed);
            $tags = [];
            foreach ($packed as $file) {
                exec('ffprobe -v error -show_entries format_tags:stream_tags -of flat '.escapeshellarg($file), $tags);
                exec('ffmpeg -v error -y -i '.escapeshellarg($file).' -c:a pcm_s24le '.escapeshellarg($file.'.wav'), $_, $failed);
                self::assertSame(0, $failed);
                [$own, $back] = [Sounds::whole(SoundFile::open(substr($file, 0, -\strlen($as)).'wav')), Sounds::whole(SoundFile::open($file.'.wav'))];
                if ('flac' === $as) {
                    self::assertSame([$own->left, $own->right], [$back->left, $back->right]);
                } else {
                    self::assertEqualsWithDelta($own->frames(), $back->frames(), 1152);
                    self::assertLessThan(0.05, sqrt(array_sum(array_map(static fn (float $a, float $b): float => ($a - $b) ** 2, \array_slice($own->left, 0, 40_000), \array_slice($back->left, 0, 40_000))) / 40_000));
                }
            }
            $said = strtolower(implode(' ', $tags));
            self::assertMatchesRegularExpression('/title="heard[^"]+"/', $said);
            self::assertStringContainsString('120', $said);
            self::assertStringContainsString('album="heard"', $said);
        }
    }

    public function testStemsThatWereCutSayByHowMuchAndAreDeliveredLower(): void
    {
        $path = Sounds::folder().'/b.wav';
        $writer = new WavWriter($path, 44100, SampleFormat::Int24);
        $writer->write(Gain::sides(Sounds::hit(3, 22050), -1.0, -1.0));
        $writer->close();
        $state = self::upload('Knock turned.wav', (string) file_get_contents($path));
        self::assertIsArray($state['sample']);
        $fill = ['type' => 'fill-pad', 'start' => 0, 'end' => 22050, 'role' => 'tonal'];
        $beat = RandomBeats::changed(Beat::empty('Loud'), [
            [...$fill, 'pad' => 'a0', 'name' => 'One', 'sample' => self::$hash], [...$fill, 'pad' => 'a1', 'name' => 'Other', 'sample' => $state['sample']['hash']],
            ['type' => 'set', 'under' => 'mixer/c1', 'gainDb' => 6], ['type' => 'set', 'under' => 'mixer/c2', 'gainDb' => 5],
            ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 127], [0, 'a1', 127]]],
        ]);
        $id = self::service(Beats::class)->add($beat)->id;
        $order = ['what' => 'beat', 'format' => '24', 'stems' => 'channel'];
        self::assertSame(422, self::ask('POST', "/beats/$id/deliveries", [...$order, 'lowerDb' => 25])->getStatusCode());
        $ordered = self::json(self::ask('POST', "/beats/$id/deliveries", $order));
        self::work();
        self::assertIsInt($ordered['id']);
        $page = self::ask('GET', '/deliveries/'.$ordered['id'], null, ['HX-Request' => 'true']);
        self::assertMatchesRegularExpression('/Alone, One, Other would go up to [23]\.\d dB above full scale and was cut there/', (string) $page->getContent());
        self::assertMatchesRegularExpression('/<input type="hidden" name="lowerDb" value="3">\s*<button class="btn">Deliver again, 3 dB lower/', (string) $page->getContent());
        $again = self::json(self::ask('POST', "/beats/$id/deliveries", [...$order, 'lowerDb' => 3]));
        self::work();
        self::assertIsInt($again['id']);
        $lower = (string) self::ask('GET', '/deliveries/'.$again['id'], null, ['HX-Request' => 'true'])->getContent();
        self::assertStringContainsString('The 2 stems add up to the mix', $lower);
        self::assertStringContainsString('24 bit, 3 dB lower', $lower);
        self::assertStringNotContainsString('Deliver again', $lower);
    }

    public function testACancelledDeliveryMakesNothing(): void
    {
        $ordered = self::json(self::ask('POST', '/beats/'.self::$beat.'/deliveries', ['what' => 'p1', 'loop' => '1', 'format' => '24', 'stems' => 'none']));
        self::assertIsInt($ordered['id']);
        self::assertSame('cancelled', self::json(self::ask('POST', '/deliveries/'.$ordered['id'].'/cancel'))['state']);
        self::work();
        self::assertSame('cancelled', self::json(self::ask('GET', '/deliveries/'.$ordered['id']))['state']);
        self::assertSame(404, self::ask('GET', '/deliveries/'.$ordered['id'].'/file')->getStatusCode());
        self::assertDirectoryDoesNotExist(self::$data.'/deliveries/'.$ordered['id']);
    }

    public function testAMissingSampleFailsWithItsReason(): void
    {
        $missing = str_repeat('ab', 32);
        $beat = RandomBeats::changed(Beat::empty('Hollow'), [
            ['type' => 'fill-pad', 'pad' => 'a0', 'sample' => $missing, 'name' => 'Gone', 'role' => 'kick', 'start' => 0, 'end' => 10],
            ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 120]]],
        ]);
        $id = self::service(Beats::class)->add($beat)->id;
        self::assertSame(422, self::ask('POST', "/beats/$id/loop", ['what' => 'p1'])->getStatusCode());
        self::assertSame(200, self::ask('GET', "/beats/$id/kit", null, ['Accept' => 'text/html'])->getStatusCode());
        $ordered = self::json(self::ask('POST', "/beats/$id/deliveries", ['what' => 'beat', 'format' => '24', 'stems' => 'none']));
        self::work();
        self::assertIsInt($ordered['id']);
        $state = self::json(self::ask('GET', '/deliveries/'.$ordered['id']));
        self::assertSame('failed', $state['state']);
        self::assertStringContainsString('cannot be opened', self::text($state['message']));
        self::assertSame([], glob(self::$data.'/deliveries/'.$ordered['id'].'*'));
    }

    public function testPagesShowTheBeat(): void
    {
        $page = static fn (string $path): string => (string) self::ask('GET', '/beats/'.self::$beat.$path, null, ['Accept' => 'text/html'])->getContent();
        foreach (['/pattern' => 'data-lanes', '/kit?pad=a1' => 'While held', '/mix?channel=c2' => 'The way of Knock', '/deliver' => '01 Knock - 120 BPM.wav', '/gather' => 'Knock', '/chop' => 'Slice at hits'] as $path => $holds) {
            self::assertStringContainsString($holds, $page($path), $path);
        }
        // Nonsense in the address chooses what is there.
        foreach (['/pattern?pattern=p77&bank=z', '/kit?pad[]=1', '/mix?channel=%00', '/gather?sample=x'] as $path) {
            self::assertStringContainsString('id="dock"', $page($path), $path);
        }
        $empty = self::service(Beats::class)->add(Beat::empty('Nothing yet'))->id;
        foreach (['pattern' => 'No sounds on this bank yet', 'kit' => 'This bank is empty', 'mix' => 'No channels yet'] as $workspace => $words) {
            self::assertStringContainsString($words, (string) self::ask('GET', "/beats/$empty/$workspace", null, ['Accept' => 'text/html'])->getContent());
        }
    }

    public function testAChangeFromAPageIsAnsweredWithThatPage(): void
    {
        $head = self::service(Beats::class)->find(self::$beat)?->head;
        $response = self::ask('POST', '/beats/'.self::$beat.'/changes', ['type' => 'set', 'under' => 'mixer/c1', 'pan' => 0.5], [
            'X-Pestle-Head' => (string) $head, 'HX-Request' => 'true', 'HX-Current-URL' => 'http://127.0.0.1:8777/beats/'.self::$beat.'/mix?channel=c2',
        ]);
        $html = (string) $response->getContent();
        self::assertStringContainsString('value="Knock" maxlength="80" hx-post="changes" hx-vals', $html);
        self::assertStringContainsString('Undo: Pan of Knock', $html);
        self::assertStringContainsString('&quot;head&quot;:'.($head + 1), $html);
    }
}
