<?php

namespace Pestle\Tests\App;

use Pestle\App\Storage\Beats;
use Pestle\Core\Beat\Beat;
use PHPUnit\Framework\Attributes\DataProvider;

final class TrustTest extends AppCase
{
    private const HASH = '00112233445566778899aabbccddeeff00112233445566778899aabbccddeeff';

    /** @return iterable<string, array{array<string, string>}> */
    public static function strangers(): iterable
    {
        yield 'a foreign host' => [['Host' => 'pestle.example:8777']];
        yield 'no host' => [['Host' => '']];
        yield 'a foreign origin' => [['Origin' => 'http://elsewhere.example']];
        yield 'the origin of another port' => [['Origin' => 'http://127.0.0.1:9999']];
        yield 'no origin at all' => [['Origin' => 'null']];
        yield 'no token' => [['X-Pestle-Token' => '-']];
        yield 'a wrong token' => [['X-Pestle-Token' => str_repeat('0', 64)]];
    }

    /** @param array<string, string> $headers */
    #[DataProvider('strangers')]
    public function testStrangersAreRefused(array $headers): void
    {
        $id = self::service(Beats::class)->add(Beat::empty('Safe'))->id;
        $response = self::ask('POST', "/beats/$id/changes", ['type' => 'rename-beat', 'name' => 'Taken'], ['X-Pestle-Head' => '1', ...$headers]);
        self::assertSame(403, $response->getStatusCode());
        self::assertNotSame('', self::json($response)['error']);
        self::assertSame('Safe', self::service(Beats::class)->find($id)?->name);
    }

    public function testPagesForbidForeignAndInlineScript(): void
    {
        $id = self::service(Beats::class)->add(Beat::empty('<script>alert(1)</script>'))->id;
        foreach (['gather', 'chop', 'kit', 'pattern', 'arrange', 'mix', 'deliver'] as $workspace) {
            $response = self::ask('GET', "/beats/$id/$workspace", null, ['Accept' => 'text/html']);
            self::assertSame(200, $response->getStatusCode(), $workspace);
            $policy = (string) $response->headers->get('Content-Security-Policy');
            self::assertStringContainsString("default-src 'none'; script-src 'self'", $policy);
            self::assertStringNotContainsString('unsafe', $policy);
            $html = (string) $response->getContent();
            self::assertStringNotContainsString('<script>', $html);
            self::assertDoesNotMatchRegularExpression('~\sstyle="|\son\w+="|<script(?![^>]*src=)~', $html);
        }
    }

    /** @return iterable<string, array{string, string, array<string, mixed>|string|null, int, string}> */
    public static function nonsense(): iterable
    {
        yield 'no page' => ['GET', '/nowhere', null, 404, 'There is nothing at this address.'];
        yield 'no beat' => ['GET', '/beats/99999/pattern', null, 404, 'This beat is not there.'];
        yield 'a huge number' => ['GET', '/beats/99999999999999999999/pattern', null, 404, 'nothing at this address'];
        yield 'the wrong method' => ['DELETE', '/beats/1/changes', null, 405, 'kind of request'];
        yield 'broken JSON' => ['POST', '/beats/1/changes', '{"type": ', 422, 'must be one of'];
        yield 'JSON that is a number' => ['POST', '/beats/1/changes', '7', 422, 'must be one of'];
        yield 'a nested type' => ['POST', '/beats/1/changes', ['type' => ['x']], 422, 'type must be one of'];
        yield 'no sample' => ['GET', '/samples/'.self::HASH.'/outline/0/0', null, 404, 'This sample is not in the library.'];
        yield 'no pad' => ['GET', '/beats/1/pads/a3/0123456789abcdef', null, 410, 'This pad holds no sound any more.'];
        yield 'a sample that is gone' => ['POST', '/beats/1/changes', ['type' => 'fill-pad', 'pad' => 'a0', 'sample' => 'x', 'name' => 'x', 'role' => 'kick', 'start' => 0, 'end' => 1], 422, 'sample must be the hash of a sample.'];
        yield 'an upload of nothing' => ['POST', '/uploads', ['name' => 'a.wav', 'size' => 0], 422, 'a.wav is empty.'];
        yield 'an upload too large' => ['POST', '/uploads', ['name' => 'a.wav', 'size' => 10_000_000_000], 422, 'a.wav is larger than 2 GB.'];
        yield 'an upload without name' => ['POST', '/uploads', ['size' => 10], 422, 'name must be text'];
        yield 'no upload' => ['PUT', '/uploads/000000000000000000000000?at=0', 'x', 404, 'This upload is not known.'];
        yield 'no delivery' => ['GET', '/deliveries/77/file', null, 404, 'This delivery is not there.'];
        yield 'a delivery of nothing' => ['POST', '/beats/1/deliveries', ['what' => 'p9', 'format' => '24', 'stems' => 'none'], 422, 'This pattern is no longer in the beat.'];
        yield 'a format that is none' => ['POST', '/beats/1/deliveries', ['what' => 'beat', 'format' => 'gold', 'stems' => 'none'], 422, 'format must be one of'];
    }

    /** @param array<string, mixed>|string|null $body */
    #[DataProvider('nonsense')]
    public function testNonsenseIsAnsweredWithASentence(string $method, string $path, array|string|null $body, int $status, string $sentence): void
    {
        $beats = self::service(Beats::class);
        if (null === $beats->find(1)) {
            $beats->add(Beat::empty('First'));
        }
        $response = self::ask($method, $path, $body, ['X-Pestle-Head' => '1']);
        self::assertSame($status, $response->getStatusCode(), (string) $response->getContent());
        self::assertStringContainsString($sentence, self::text(self::json($response)['error'] ?? null));
    }

    public function testAChangeMustSayWhatItSaw(): void
    {
        $id = self::service(Beats::class)->add(Beat::empty('Seen'))->id;
        self::assertSame(422, self::ask('POST', "/beats/$id/changes", ['type' => 'set-tempo', 'bpm' => 90])->getStatusCode());
        self::assertSame(409, self::change($id, 50, ['type' => 'set-tempo', 'bpm' => 90])->getStatusCode());
        self::assertSame(422, self::change($id, 1, ['type' => 'set-tempo', 'bpm' => 90, 'changeId' => 'no!'])->getStatusCode());
    }
}
