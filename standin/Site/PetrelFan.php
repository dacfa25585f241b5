<?php

declare(strict_types=1);

namespace Ypomna\Standin\Site;

use Ypomna\Standin\Web\Request;
use Ypomna\Standin\Web\Response;
use Ypomna\Standin\Web\Site;

/** A ship-spotter's page from long ago: frames, tables for layout, moving pictures, a pop-up. Gone since 2025. */
final class PetrelFan implements Site
{
    public function hosts(\DateTimeImmutable $now): array
    {
        return ['old.petrel-fan.test'];
    }

    public function answer(Request $request): Response
    {
        if ($request->since('2025-01-01')) {
            return Response::html('<HTML><HEAD><TITLE>404 Not Found</TITLE></HEAD><BODY><H1>Not Found</H1></BODY></HTML>', 404);
        }

        return match ($request->path) {
            '/',
            '/index.htm' => self::old(
                '<HTML><HEAD><TITLE>The unofficial PETREL DAWN page</TITLE></HEAD><FRAMESET COLS="180,*" BORDER=0><FRAME NAME="menu"'
                    .' SRC="menu.htm"><FRAME NAME="main" SRC="main.htm"><NOFRAMES>Get a browser with frames!</NOFRAMES></FRAMESET></HTML>',
            ),
            '/menu.htm' => self::old(
                '<HTML><BODY BGCOLOR="#003366" TEXT="#FFFFFF" LINK="#FFFF00"><FONT FACE="Comic Sans MS"><A HREF="main.htm"'
                    .' TARGET="main">Home</A><BR><A HREF="log.htm" TARGET="main">Log book</A><BR><A'
                        .' HREF="javascript:void(open(\'photo.htm\',\'p\',\'width=420,height=260\'))">Big photo</A><P><IMG'
                            .' SRC="anchor.gif" WIDTH=32 HEIGHT=32></FONT></BODY></HTML>',
            ),
            '/main.htm' => self::old(
                '<HTML><BODY BACKGROUND="waves.gif"><CENTER><TABLE BORDER=4 CELLPADDING=8 BGCOLOR="#EEEEEE"><TR><TD><IMG'
                    .' SRC="petrel.gif" WIDTH=300 HEIGHT=150 ALT="Petrel Dawn"><TD VALIGN=TOP><FONT SIZE=5>Welcome'
                        .' aboard!</FONT><P>Everything about the <B>Petrel Dawn</B>, since 1997.<P>The stern door was renewed in <B>May'
                            .' 2021</B>, I watched it from the quay.</TABLE><P><BLINK>NEW!</BLINK> <MARQUEE WIDTH=300>Sign the guest'
                                .' book</MARQUEE></CENTER></BODY></HTML>',
            ),
            '/log.htm' => self::old('<HTML><BODY><H2>Log book</H2><PRE>8 Apr 1999  Sea trials
17 May 2021 New seal, stern door. Two men, one day.
12 Apr 2024 Board inspector aboard.</PRE></BODY></HTML>'),
            '/photo.htm' => self::old('<HTML><TITLE>Photo</TITLE><BODY><IMG SRC="petrel.gif"></BODY></HTML>'),
            '/anchor.gif' => Response::of('image/gif', self::gif(32, 32, 'A')),
            '/waves.gif' => Response::of('image/gif', self::gif(40, 20, '~')),
            '/petrel.gif' => Response::of('image/gif', self::gif(300, 150, 'PETREL DAWN')),
            default => Response::html('<HTML><HEAD><TITLE>404 Not Found</TITLE></HEAD><BODY><H1>Not Found</H1></BODY></HTML>', 404),
        };
    }

    private static function old(string $html): Response
    {
        return new Response(
            200, [['Content-Type', 'text/html'], ['Server', 'Harbour/1.3'], ['Last-Modified', 'Sun, 14 Apr 2024 08:00:00 GMT']], $html,
        );
    }

    private static function gif(int $width, int $height, string $text): string
    {
        $image = imagecreate(max(1, $width), max(1, $height));
        imagecolorallocate($image, 40, 90, 140);
        imagestring($image, 4, 4, intdiv($height, 3), $text, (int) imagecolorallocate($image, 255, 255, 220));
        ob_start();
        imagegif($image);

        return (string) ob_get_clean();
    }
}
