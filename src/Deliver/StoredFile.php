<?php

namespace Pestle\App\Deliver;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\StreamedResponse;

/** A file that lies in an archive as it is, without being packed smaller: it is sent from there, whole or a range of it. Source: PKWARE, "APPNOTE.TXT, .ZIP File Format Specification", 4.3.7; RFC 9110, 14. */
final readonly class StoredFile
{
    private const HEADER = 30;
    private const BLOCK = 65_536;
    /** Of a range so much is sent at once, and a player asks for more when it wants it: one that pauses would hold a web process till it goes on. */
    private const MOST = 524_288;

    private function __construct(private string $archive, private int $at, public int $bytes)
    {
    }

    /** Null where the archive holds no such file, or holds it packed. */
    public static function in(string $archive, string $name): ?self
    {
        $zip = new \ZipArchive();
        if (true !== $zip->open($archive, \ZipArchive::RDONLY)) {
            return null;
        }
        $wanted = $zip->statName($name);
        // Where each begins is not told: they lie one behind the other, in their order.
        $at = 0;
        $found = null;
        $stream = @fopen($archive, 'r');
        for ($i = 0; false !== $wanted && false !== $stream && $i < $zip->numFiles; ++$i) {
            $stat = $zip->statIndex($i);
            $header = stream_get_contents($stream, self::HEADER, $at);
            if (false === $stat || false === $header || !str_starts_with($header, "PK\x03\x04") || self::HEADER !== \strlen($header)) {
                break;
            }
            /** @var array{flags: int, name: int, extra: int} $said */
            $said = unpack('vflags/x18/vname/vextra', substr($header, 6)) ?: [];
            $data = $at + self::HEADER + $said['name'] + $said['extra'];
            if ($stat['index'] === $wanted['index']) {
                $found = \ZipArchive::CM_STORE === $stat['comp_method'] ? new self($archive, $data, $stat['size']) : null;
                break;
            }
            $at = $data + $stat['comp_size'];
        }
        $zip->close();
        if (false !== $stream) {
            fclose($stream);
        }

        return $found;
    }

    /** What is asked for of it. */
    public function response(Request $request, string $type): StreamedResponse
    {
        [$from, $to] = $this->range($request->headers->get('Range') ?? '') ?? [0, $this->bytes];
        $whole = 0 === $from && $to === $this->bytes;
        $response = new StreamedResponse(fn () => $this->send($from, $to), $whole ? 200 : 206, ['Content-Type' => $type, 'Content-Length' => (string) ($to - $from), 'Accept-Ranges' => 'bytes', 'Cache-Control' => 'private, max-age=3600']);
        if (!$whole) {
            $response->headers->set('Content-Range', \sprintf('bytes %d-%d/%d', $from, $to - 1, $this->bytes));
        }

        return $response;
    }

    /** @return array{int, int}|null first byte and the one after the last; null where no single range is asked for that it has */
    private function range(string $header): ?array
    {
        if (1 !== preg_match('/^bytes=(\d{0,15})-(\d{0,15})$/D', $header, $said) || '' === $said[1].$said[2]) {
            return null;
        }
        [$from, $to] = '' === $said[1] ? [max(0, $this->bytes - (int) $said[2]), $this->bytes] : [(int) $said[1], '' === $said[2] ? $this->bytes : min($this->bytes, (int) $said[2] + 1)];

        return $from < $to ? [$from, min($to, $from + self::MOST)] : null;
    }

    private function send(int $from, int $to): void
    {
        $stream = fopen($this->archive, 'r') ?: throw new \RuntimeException('The archive cannot be read.');
        fseek($stream, $this->at + $from);
        for ($left = $to - $from; $left > 0 && !connection_aborted(); $left -= \strlen($block)) {
            $block = (string) fread($stream, min(self::BLOCK, $left));
            if ('' === $block) {
                break;
            }
            echo $block;
            flush();
        }
        fclose($stream);
    }
}
