<?php

declare(strict_types=1);

namespace Ypomna\App\Custody;

use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\Filesystem\Filesystem;
use Symfony\Component\Process\Exception\ProcessSignaledException;
use Symfony\Component\Process\Exception\ProcessTimedOutException;
use Symfony\Component\Process\Process;
use Ypomna\App\Capture\Browser\Chromium;

/**
 * Prints an archived page as PDF: its still reading, behind the same wall, by a browser that reaches the archive's pages and
 * nothing else. One at a time, since it takes a browser.
 */
final readonly class PagePrinter
{
    private const SECONDS = 40;

    public function __construct(#[Autowire('%env(CHROMIUM)%')] private string $browser, #[Autowire('%env(YPOMNA_DATA)%')] private string $dataFolder, #[Autowire('%env(PAGE_HOST)%')] private string $pageHost)
    {
    }

    /**
     * @param string $address of the page on its host in the archive
     *
     * @return string the PDF file's bytes
     *
     * @throws CannotGiveOut
     */
    public function pdf(string $address): string
    {
        return $this->print($address, null);
    }

    /**
     * Prints a page that we made ourselves.
     *
     * @param string $html with everything in it
     *
     * @throws CannotGiveOut
     */
    public function pdfOf(string $html): string
    {
        return $this->print('', $html);
    }

    private function print(string $address, ?string $html): string
    {
        $files = new Filesystem();
        $files->mkdir($this->dataFolder.'/work', 0o755);
        $lock = fopen($this->dataFolder.'/work/print.lock', 'c');
        if (false === $lock || !$this->waitFor($lock)) {
            throw new CannotGiveOut('Another page is being printed. Try again in a moment.');
        }
        // The browser makes a socket in it, whose path has to stay below 108 bytes.
        $folder = sys_get_temp_dir().'/ypomna-print-'.bin2hex(random_bytes(6));
        $files->mkdir($folder, 0o700);
        if (null !== $html) {
            $files->dumpFile($folder.'/page.html', $html);
            $address = 'file://'.$folder.'/page.html';
        }
        try {
            $arguments = [
                $this->browser, '--headless', '--disable-gpu', '--no-first-run', '--no-default-browser-check', '--disable-background-networking', '--disable-component-update', '--disable-sync', '--disable-extensions', '--disable-default-apps', '--disable-breakpad',
                '--disable-dev-shm-usage', '--mute-audio', '--no-pings', '--password-store=basic', '--host-resolver-rules=MAP *.'.$this->pageHost.' 127.0.0.1, MAP * ~NOTFOUND', '--user-data-dir='.$folder.'/profile', '--timeout=20000',
                '--no-pdf-header-footer', '--print-to-pdf='.$folder.'/page.pdf', $address,
            ];
            if (0 === posix_geteuid() || !Chromium::canSandbox()) {
                array_splice($arguments, 1, 0, '--no-sandbox');
            }

            // A browser that falls over gets a second chance.
            for ($tries = 0; $tries < 2; ++$tries) {
                $pdf = $this->printed($arguments, $folder);
                if (null !== $pdf) {
                    return $pdf;
                }
            }
            throw new CannotGiveOut('The page could not be printed: the browser gave no PDF.');
        } catch (ProcessTimedOutException) {
            throw new CannotGiveOut('The page could not be printed: it took too long.');
        } finally {
            $files->remove($folder);
            fclose($lock);
        }
    }

    /**
     * @param list<string> $arguments
     *
     * @return string|null null if the browser fell over
     */
    private function printed(array $arguments, string $folder): ?string
    {
        try {
            (new Process($arguments, $folder, ['HOME' => $folder, 'TMPDIR' => $folder, 'PATH' => '/usr/local/bin:/usr/bin:/bin', 'LANG' => 'C.UTF-8', 'TZ' => 'UTC'], null, self::SECONDS))->run();
        } catch (ProcessSignaledException) {
            return null;
        }
        $pdf = (string) @file_get_contents($folder.'/page.pdf');

        return str_starts_with($pdf, '%PDF-') ? $pdf : null;
    }

    /**
     * @param resource $lock
     */
    private function waitFor($lock): bool
    {
        for ($tries = 0; $tries < 100; ++$tries) {
            if (flock($lock, \LOCK_EX | \LOCK_NB)) {
                return true;
            }
            usleep(200_000);
        }

        return false;
    }
}
