<?php

declare(strict_types=1);

namespace Ypomna\App\Custody;

use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\Entity\WarcFile;
use Ypomna\App\Catalogue\Indexer;
use Ypomna\App\Compare\ChangeMeter;
use Ypomna\Core\Warc\Reader;
use Ypomna\Core\Warc\WarcError;

/**
 * Takes in WARC files that others made: stored unchanged under their digest, entered in the ledger, and in the catalogue
 * by what is read from them.
 */
final readonly class TakeIn
{
    public function __construct(private Store $store, private LedgerBook $ledger, private Indexer $indexer, private ChangeMeter $meter)
    {
    }

    /**
     * @throws CannotTakeIn
     */
    public function file(string $path): TakenIn
    {
        $name = basename($path);
        [$incoming, $sha256] = $this->copy($path, $name);
        try {
            $known = $this->indexer->known([$sha256]);
            if ([] !== $known) {
                return new TakenIn($name, $sha256, true, 0, 0, []);
            }
            $this->mustBeWarc($incoming, $name);
            $target = 'taken-in/'.substr($sha256, 0, 2).'/'.$sha256.'.warc'.("\x1f\x8b" === file_get_contents($incoming, false, null, 0, 2) ? '.gz' : '');
            if (!is_file($this->store->path($target))) {
                $this->store->commit($incoming, $target);
            }
        } finally {
            @unlink($incoming);
        }
        $line = $this->ledger->once('file.taken-in', $target, ['sha256' => $sha256, 'bytes' => (int) filesize($this->store->path($target)), 'name' => $name]);
        $report = $this->indexer->enter($target, $sha256, WarcFile::TAKEN_IN, $name, $line->at);
        foreach ($report->captures as $capture) {
            $this->meter->measure((int) $capture->id);
        }

        return new TakenIn($name, $sha256, false, $report->records, \count(array_filter($report->captures, static fn (Capture $c): bool => null === $c->redirectTo)), $report->findings);
    }

    /**
     * @return array{string, string} path of the copy, and its digest
     */
    private function copy(string $path, string $name): array
    {
        $in = is_file($path) ? @fopen($path, 'r') : false;
        if (false === $in) {
            throw new CannotTakeIn(\sprintf('%s: the file is not there, or may not be read.', $path));
        }
        $incoming = $this->store->incoming(bin2hex(random_bytes(8)));
        $out = @fopen($incoming, 'x');
        $digest = hash_init('sha256');
        try {
            while (false !== $out && '' !== ($piece = (string) fread($in, 1_048_576))) {
                hash_update($digest, $piece);
                if (@fwrite($out, $piece) !== \strlen($piece)) {
                    throw new CannotTakeIn(\sprintf('%s: the disk took no more.', $name));
                }
            }
            if (false === $out || !fflush($out) || !fsync($out)) {
                throw new CannotTakeIn(\sprintf('%s: the store cannot be written to.', $name));
            }
        } catch (CannotTakeIn $e) {
            @unlink($incoming);
            throw $e;
        } finally {
            fclose($in);
            if (false !== $out) {
                fclose($out);
            }
        }

        return [$incoming, hash_final($digest)];
    }

    private function mustBeWarc(string $path, string $name): void
    {
        try {
            $first = Reader::open($path)->records()->current();
        } catch (WarcError $e) {
            throw new CannotTakeIn(\sprintf('%s is no WARC file: %s', $name, $e->getMessage()));
        }
        if (null === $first) {
            throw new CannotTakeIn(\sprintf('%s is no WARC file: no record can be found in it.', $name));
        }
    }
}
