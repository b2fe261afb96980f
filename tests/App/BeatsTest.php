<?php

namespace Pestle\Tests\App;

use Pestle\App\Page\BeatPrint;
use Pestle\App\Storage\Beats;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Changes;

final class BeatsTest extends AppCase
{
    public function testChangesUndoAndRedoByName(): void
    {
        $id = self::service(Beats::class)->add(Beat::empty('History'))->id;
        $start = self::content($id);
        self::assertSame(['head' => 2, 'undo' => 'Tempo 92 BPM', 'redo' => null], self::json(self::change($id, 1, ['type' => 'set-tempo', 'bpm' => 92])));
        self::change($id, 2, ['type' => 'set-key', 'key' => 'D minor']);
        $edited = self::content($id);
        self::assertSame(['head' => 4, 'undo' => 'Tempo 92 BPM', 'redo' => 'Key D minor'], self::json(self::move($id, 'undo', 3)));
        self::assertSame(['head' => 5, 'undo' => null, 'redo' => 'Tempo 92 BPM'], self::json(self::move($id, 'undo', 4)));
        self::assertSame($start, self::content($id));
        self::assertSame(422, self::move($id, 'undo', 5)->getStatusCode());
        self::assertSame('Key D minor', self::json(self::move($id, 'redo', 5))['redo']);
        self::assertSame(['head' => 7, 'undo' => 'Key D minor', 'redo' => null], self::json(self::move($id, 'redo', 6)));
        self::assertSame($edited, self::content($id));
        // A new change after an undo leaves nothing to redo.
        self::move($id, 'undo', 7);
        self::assertNull(self::json(self::change($id, 8, ['type' => 'rename-beat', 'name' => 'Other']))['redo']);
    }

    /** What cannot be exchanged is told on the page, where it would be taken, and refused where it is heard. */
    public function testTheOnlyKitStaysAndSaysSo(): void
    {
        $id = self::service(Beats::class)->add(Beat::empty('One kit'))->id;
        self::change($id, 1, ['type' => 'add-part', 'id' => 'part-2', 'name' => 'Line', 'shelf' => 'neon', 'section' => 's1']);
        $page = self::ask('GET', "/beats/$id/sound?part=part-1&over=part-2");
        self::assertSame(200, $page->getStatusCode());
        self::assertStringContainsString('is the only kit, and a beat keeps one', (string) $page->getContent());
        self::assertStringNotContainsString('Play it on this', (string) $page->getContent());
        self::assertSame(422, self::change($id, 2, ['type' => 'exchange-kit', 'part' => 'part-1', 'from' => 'part-2'])->getStatusCode());
        self::assertSame(422, self::ask('POST', "/beats/$id/loop", ['what' => 's1', 'have' => '', 'hear' => 'exchanged/part-1/part-2'])->getStatusCode());
        self::assertStringContainsString('Play it on this', (string) self::ask('GET', "/beats/$id/sound?part=part-2&over=part-1")->getContent());
    }

    public function testTwoWindowsNeverOverwriteEachOther(): void
    {
        $id = self::service(Beats::class)->add(Beat::empty('Two windows'))->id;
        self::change($id, 1, ['type' => 'set-tempo', 'bpm' => 100]);
        // From head 1, elsewhere: goes onto the newest.
        self::assertSame(3, self::json(self::change($id, 1, ['type' => 'set-key', 'key' => 'A minor']))['head']);
        // From head 1, the same thing: refused, with what moved.
        $refused = self::change($id, 1, ['type' => 'set-tempo', 'bpm' => 120]);
        self::assertSame(409, $refused->getStatusCode());
        self::assertSame('Meanwhile, this was changed in another window: Tempo 100 BPM.', self::json($refused)['error']);
        self::assertSame(409, self::move($id, 'undo', 1)->getStatusCode());
        self::assertStringContainsString('"tempo":100.0', self::content($id));
        // Done on the newest on request.
        self::assertSame(200, self::ask('POST', "/beats/$id/changes", ['type' => 'set-tempo', 'bpm' => 120], ['X-Pestle-Head' => 'newest'])->getStatusCode());
        self::assertStringContainsString('"tempo":120.0', self::content($id));
    }

    public function testAChangeSentTwiceIsMadeOnce(): void
    {
        $id = self::service(Beats::class)->add(Beat::empty('Twice'))->id;
        $change = ['type' => 'add-pattern', 'id' => 'p2', 'name' => 'Second', 'changeId' => 'a-change-sent-twice'];
        foreach (['once', 'again'] as $time) {
            self::assertSame(2, self::json(self::change($id, 1, $change))['head'], $time);
        }
    }

    public function testAnEditStoresOnlyWhatChanged(): void
    {
        $beats = self::service(Beats::class);
        $id = $beats->add(Beat::empty('Small revisions'))->id;
        $count = static fn (): int => self::rows('content');
        $before = $count();
        self::change($id, 1, ['type' => 'set-tempo', 'bpm' => 99]);
        self::assertSame($before + 1, $count());
        self::change($id, 2, ['type' => 'set-tempo', 'bpm' => 90]);
        self::assertSame($before + 1, $count(), 'back to what was stored already');
    }

    public function testTheListRenamesDuplicatesDeletesAndRestores(): void
    {
        $location = self::ask('POST', '/beats')->headers->get('Location');
        self::assertMatchesRegularExpression('~^/beats/\d+/gather$~', (string) $location);
        $id = (int) explode('/', (string) $location)[2];
        self::ask('POST', "/beats/$id/rename", ['name' => 'Lantern']);
        self::assertSame(422, self::ask('POST', "/beats/$id/rename", ['name' => ''])->getStatusCode());
        self::ask('POST', "/beats/$id/duplicate");
        $names = static fn (): array => array_map(static fn ($r): string => $r->name, self::service(Beats::class)->all());
        self::assertContains('Lantern copy', $names());
        self::assertSame("/?deleted=$id", self::ask('POST', "/beats/$id/delete")->headers->get('Location'));
        self::assertNotContains('Lantern', $names());
        self::assertSame(404, self::ask('GET', "/beats/$id/pattern")->getStatusCode());
        self::assertStringContainsString('was deleted', (string) self::ask('GET', "/?deleted=$id", null, ['Accept' => 'text/html'])->getContent());
        self::ask('POST', "/beats/$id/restore");
        self::assertContains('Lantern', $names());
        // A page is told where to go by a header, a script by a redirect.
        $told = self::ask('POST', "/beats/$id/delete", null, ['HX-Request' => 'true']);
        self::assertSame([204, "/?deleted=$id", null], [$told->getStatusCode(), $told->headers->get('HX-Redirect'), $told->headers->get('Location')]);
    }

    public function testABeatsPrintShowsItsFullestPatternAndItsOrder(): void
    {
        $beat = Beat::empty('Print');
        self::assertSame([], BeatPrint::of($beat)->seeds);
        foreach ([
            ['type' => 'set-tempo', 'bpm' => 120],
            ['type' => 'fill-pad', 'pad' => 'a0', 'sample' => str_repeat('0', 64), 'name' => 'Knock', 'role' => 'kick', 'start' => 0, 'end' => 100],
            ['type' => 'fill-pad', 'pad' => 'a5', 'sample' => str_repeat('1', 64), 'name' => 'Ring', 'role' => 'cymbal', 'start' => 0, 'end' => 100],
            ['type' => 'add-pattern', 'id' => 'p2', 'name' => 'Fill'],
            ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 127], [3840, 'a5', 64]]],
            ['type' => 'edit-hits', 'pattern' => 'p2', 'hits' => [[0, 'a0', 127]]],
            ['type' => 'set', 'song/e1/repeats' => 3],
            ['type' => 'add-section', 'id' => 's2', 'name' => 'Fill'],
            ['type' => 'set-cell', 'section' => 's2', 'part' => 'part-1', 'pattern' => 'p2'],
            ['type' => 'set-song', 'sections' => ['s2', 's1']],
        ] as $change) {
            $beat = Changes::read($change)->apply($beat);
        }
        $print = BeatPrint::of($beat);
        self::assertSame('Pattern 1', $print->pattern);
        // Two lanes of a quarter of the height; the second hit lies in the middle of two bars, half as strong.
        self::assertSame(['kick' => 'M1.5 15.0v-13.5', 'cymbal' => 'M128.0 30.0v-6.8'], $print->seeds);
        $bars = array_map(static fn (array $part): float => $part['width'], $print->parts);
        self::assertEqualsWithDelta(256.0, array_sum($bars), 1e-9);
        self::assertSame(['Fill', 'Section 1 × 3'], array_column($print->parts, 'name'));
        self::assertSame($bars[0], $print->parts[1]['x']);
        self::assertEqualsWithDelta((2 + 3 * 2) * 2.0, $print->seconds, 1e-9);
    }

    private static function content(int $id): string
    {
        $beats = self::service(Beats::class);
        $record = $beats->find($id);
        self::assertNotNull($record);

        return BeatCodec::encode($beats->content($record));
    }

    private static function move(int $id, string $way, int $head): \Symfony\Component\HttpFoundation\Response
    {
        return self::ask('POST', "/beats/$id/$way", null, ['X-Pestle-Head' => (string) $head]);
    }

    private static function rows(string $table): int
    {
        $statement = (new \PDO('sqlite:'.self::$data.'/pestle.sqlite'))->query("SELECT COUNT(*) FROM $table");
        self::assertNotFalse($statement);

        return (int) $statement->fetchColumn();
    }
}
