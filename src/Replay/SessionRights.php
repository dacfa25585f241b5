<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Doctrine\DBAL\Connection;
use Ypomna\App\Replay\Value\ReadingRight;
use Ypomna\App\Shared\OpenSessions;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Account\Base32;

/**
 * The right to read a capture is one session's: whoever has the host's name has it, as long as that session lasts and its person may see
 * the capture. The name cannot be guessed, and cannot be computed without the installation's secret. In a public reading room those who
 * have not signed in share one.
 */
final readonly class SessionRights implements ReadingRights
{
    /** No session lasts as long. */
    public const DAYS = 40;
    /** Bytes of a label: as many as of a random UUID. */
    private const BYTES = 16;
    private const NOBODY = '';

    /** @param string $public `on` where captures are read by people who have not signed in */
    public function __construct(
        private Connection $database,
        private OpenSessions $sessions,
        #[\SensitiveParameter] private string $secret,
        private string $public,
    ) {
    }

    public function label(Viewer $viewer, string $capture): string
    {
        $session = $viewer->session ?? self::NOBODY;
        $bytes = substr(hash_hmac('sha256', 'reading '.$session.' '.$capture, $this->secret, true), 0, self::BYTES);
        $label = strtolower(Base32::encode($bytes));
        $new = $this->database->executeStatement(
            'INSERT IGNORE INTO reading_right (label, session, capture_code, made_on) VALUES (?, ?, ?, UTC_DATE())',
            [$label, $session, $capture],
        );
        if (1 === $new && 0 === random_int(0, 999)) {
            $this->database->executeStatement(
                'DELETE FROM reading_right WHERE made_on < UTC_DATE() - INTERVAL '.self::DAYS.' DAY LIMIT 10000',
            );
        }

        return $label;
    }

    public function of(string $label): ?ReadingRight
    {
        $row = $this->database->fetchAssociative('SELECT session, capture_code FROM reading_right WHERE label = ?', [$label]);
        if (false === $row) {
            return null;
        }
        $row = new Row($row);
        $session = $row->text('session');
        $viewer = self::NOBODY === $session ? ('on' === $this->public ? Viewer::nobody() : null) : $this->sessions->viewer($session);

        return null === $viewer ? null : new ReadingRight($viewer, $row->text('capture_code'));
    }
}
