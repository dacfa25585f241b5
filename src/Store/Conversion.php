<?php

declare(strict_types=1);

namespace Ypomna\App\Store;

use Symfony\Component\Filesystem\Filesystem;
use Ypomna\App\Shared\DataFolder;
use Ypomna\App\Shared\Software;
use Ypomna\App\Store\Value\FileKind;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Http\Charset;
use Ypomna\Core\Mhtml\MhtmlReader;
use Ypomna\Core\Mhtml\WarcConversion;
use Ypomna\Core\Page\Requisites;
use Ypomna\Core\Warc\Block;
use Ypomna\Core\Warc\ResourceFile;

/** Makes a WARC file of what was kept in another format, so that it can be read, compared and found like a capture. */
final readonly class Conversion
{
    private const MAX_DOCUMENT = 16_777_216;
    private const MAX_FILES = 2_000;

    public function __construct(private DataFolder $folder)
    {
    }

    /**
     * @param string $path the file in the store
     * @param string $given where it lay when it was given: what lies beside it may belong to it
     * @param string $sha256 of the file, hex
     * @param \DateTimeImmutable $moment of the file where it says none of its own
     * @param string $target path of the WARC file; it is made and synced
     *
     * @throws ConversionFailed
     */
    public function toWarc(FileKind $kind, string $path, string $given, string $sha256, \DateTimeImmutable $moment, string $target): void
    {
        $out = @fopen($target, 'x');
        if (false === $out) {
            throw new ConversionFailed('The store cannot be written to.');
        }
        $work = $this->folder->newWork('convert');
        $files = new Filesystem();
        try {
            $files->mkdir($work, 0o700);
            match ($kind) {
                FileKind::Mhtml, FileKind::Mail => $this->mhtml($out, $kind, $path, basename($given), $sha256, $moment, $work),
                FileKind::Html => $this->html($out, $path, $given, $sha256, $moment),
                default => $this->single($out, $kind, $path, basename($given), $sha256, $moment),
            };
            if (!fflush($out) || !fsync($out)) {
                throw new ConversionFailed('The converted file could not be written to the disk for good.');
            }
        } catch (\RuntimeException $e) {
            @unlink($target);
            throw $e instanceof ConversionFailed ? $e : new ConversionFailed($e->getMessage(), 0, $e);
        } finally {
            fclose($out);
            $files->remove($work);
        }
    }

    /**
     * @param resource $out
     */
    private function mhtml($out, FileKind $kind, string $path, string $name, string $sha256, \DateTimeImmutable $moment, string $work): void
    {
        $archive = MhtmlReader::read($path);
        $fields = $archive->message?->headers->fields;
        $date = self::date($fields?->get('Date')) ?? $moment;
        $from = [
            'name' => $name,
            'kind' => $kind->value,
            'date' => $fields?->get('Date'),
            'snapshotContentLocation' => $fields?->get('Snapshot-Content-Location'),
            'from' => $fields?->get('From'),
        ];
        WarcConversion::write($archive, new ResourceFile($out, $sha256, $date, Software::NAME, $from), $work, self::authority($sha256));
    }

    /**
     * A document with what lies beside it and belongs to it.
     *
     * @param resource $out
     */
    private function html($out, string $path, string $given, string $sha256, \DateTimeImmutable $moment): void
    {
        $bytes = (string) file_get_contents($path, false, null, 0, self::MAX_DOCUMENT);
        $html = Charset::text($bytes);
        // Browsers that save a page write its address into it.
        $saved = 1 === preg_match('/<!--\s*saved from url=\(\d+\)(https?:\S+?)\s*-->/i', substr($html, 0, 4_096), $m)
            ? Url::tryParse($m[1])
            : null;
        $url = $saved?->withoutFragment() ?? Url::parse('http://'.self::authority($sha256).'/'.rawurlencode(basename($given)));
        $file = new ResourceFile(
            $out,
            $sha256,
            $moment,
            Software::NAME,
            ['name' => basename($given), 'kind' => FileKind::Html->value, 'savedFrom' => null === $saved ? null : (string) $saved],
        );
        $page = $file->resource((string) $url, 'text/html', Block::ofFile($path));
        foreach (self::beside($html, \dirname($given), $url) as $address => $part) {
            $file->resource($address, FileKind::mediaType($part), Block::ofFile($part));
        }
        $file->page($page, (string) $url, '');
    }

    /**
     * @param resource $out
     */
    private function single($out, FileKind $kind, string $path, string $name, string $sha256, \DateTimeImmutable $moment): void
    {
        $url = 'http://'.self::authority($sha256).'/'.rawurlencode($name);
        $file = new ResourceFile($out, $sha256, $moment, Software::NAME, ['name' => $name, 'kind' => $kind->value]);
        $file->page($file->resource($url, FileKind::mediaType($path), Block::ofFile($path)), $url, $name);
    }

    /**
     * Files that a document names by a relative address and that lie below its own folder; nothing else is ever read.
     *
     * @return array<string, string> path by address
     */
    private static function beside(string $html, string $folder, Url $url): array
    {
        $root = realpath($folder);
        $found = [];
        foreach (Requisites::of($html)[1] as $any) {
            foreach ($any as $reference) {
                $relative = rawurldecode((string) preg_replace('/[?#].*$/s', '', $reference));
                if (1 === preg_match('#^(?:[a-z][a-z0-9+.-]*:|/)#i', $reference) || false === $root || str_contains($relative, "\0")) {
                    continue;
                }
                $path = realpath($root.'/'.$relative);
                $address = Url::tryParse($reference, $url);
                if (false !== $path && null !== $address && is_file($path) && str_starts_with($path, $root.'/')
                    && \count($found) < self::MAX_FILES) {
                    $found[(string) $address->withoutFragment()] = $path;
                }
            }
        }

        return $found;
    }

    private static function authority(string $sha256): string
    {
        return substr($sha256, 0, 12).'.taken-in.invalid';
    }

    /** A date of a mail header (RFC 5322 section 3.3), comments left out. */
    private static function date(?string $text): ?\DateTimeImmutable
    {
        if (null === $text || 1 !== preg_match('/\d{4}/', $text)) {
            return null;
        }
        try {
            return (new \DateTimeImmutable(trim((string) preg_replace('/\([^()]*\)/', '', $text))))->setTimezone(new \DateTimeZone('UTC'));
        } catch (\Exception) {
            return null;
        }
    }
}
